import { z } from 'zod';
import type { Message } from '@/core/model/message';
import type { Outcome } from '@/core/model/finding';
import type { DraftEvidence, Gap, OtherDrafts } from '@/core/draft/draft';
import type { State } from '@/core/model/appearance';
import { Target } from './target';

/** How a drafting service is reached and what it costs; the key is never given back. */
export const ServiceSettings = z.object({
  name: z.string().trim().min(1).max(60),
  /** Base address of a server that speaks the chat-completions form, such as `https://models.example.org/v1`. */
  address: z
    .url({ protocol: /^https?$/ })
    .max(500)
    .refine((a) => {
      const { username, password } = new URL(a);
      return username === '' && password === '';
    }, 'The key goes into its own field, not into the address.'),
  model: z.string().trim().min(1).max(200),
  /** Empty for a service that needs none; left out to keep the one that is stored. */
  key: z
    .string()
    .max(4_000)
    .regex(/^[\x21-\x7e]*$/, 'A key has no spaces and only plain characters.')
    .optional(),
  /** Per million tokens, in the currency. */
  priceIn: z.number().min(0).max(100_000).default(0),
  priceOut: z.number().min(0).max(100_000).default(0),
  /** ISO 4217. */
  currency: z
    .string()
    .regex(/^[A-Z]{3}$/, 'A currency has three capital letters, such as EUR.')
    .default('EUR'),
  /** Pixels of the longer side of what is sent. */
  maxSide: z.number().int().min(128).max(4_096).default(1_024),
  atOnce: z.number().int().min(1).max(64).default(4),
  perMinute: z.number().int().min(1).max(100_000).default(60),
  timeoutSeconds: z.number().int().min(1).max(600).default(60),
  /** What may be spent in a calendar month, over all collections; null for no limit. */
  monthlyBudget: z.number().min(0).max(1_000_000).nullable().default(null),
});
export type ServiceSettings = z.infer<typeof ServiceSettings>;

/** A drafting service as the interface shows it. */
export interface Service extends Omit<ServiceSettings, 'key'> {
  id: number;
  hasKey: boolean;
  /** Name and port that pictures would be sent to. */
  host: string;
  /** It is on this machine: no consent is asked. */
  isLocal: boolean;
  /** In this calendar month. */
  spent: number;
}

/** Null is the evidence drafter, which sends nothing anywhere. */
export const DrafterChoice = z.number().int().positive().nullable();

export const WANTED_TEXTS = ['title', 'caption', 'longDescription', 'fileName'] as const;

/** What a round is to do. */
export const RoundOrder = z.object({
  target: Target,
  service: DrafterChoice,
  /** Words that are there: left alone, given to the drafter to be improved, or replaced by new ones. */
  existing: z.enum(['keep', 'improve', 'replace']).default('keep'),
  wanted: z.array(z.enum(WANTED_TEXTS)).max(WANTED_TEXTS.length).default([]),
  /** Primary languages of pages (BCP 47); empty for all. */
  languages: z.array(z.string().min(1).max(40)).max(50).default([]),
  /** What it may spend, in the currency of the service; null for no limit. */
  budget: z.number().min(0).max(1_000_000).nullable().default(null),
});
export type RoundOrder = z.infer<typeof RoundOrder>;

/** Why a place is left out of a round. */
export const ROUND_LEFT_OUT = [
  'has-text',
  'decorative',
  'no-words',
  'broken',
  'format',
  'language',
  'has-draft',
] as const;
export type RoundLeftOut = (typeof ROUND_LEFT_OUT)[number];

/** What a round would do, before anything is sent or spent. */
export interface RoundEstimate {
  pictures: number;
  places: number;
  /** Pictures and contexts that are asked about: one answer serves all places that are alike. */
  requests: number;
  leftOut: { why: RoundLeftOut; places: number }[];
  /** Languages of the pages among the places, with how many places each has. */
  languages: { language: string | null; places: number }[];
  seconds: number;
  /** Null for a drafter that costs nothing. */
  cost: { from: number; to: number; currency: string } | null;
  /** What would be sent, of the first picture; null where nothing is sent. */
  sends: { host: string; words: number; width: number; height: number; prompt: string; picture: number } | null;
  /** The host is on another machine, and nobody has agreed for this collection yet. */
  needsConsent: boolean;
}

export const ROUND_STATES = ['running', 'paused', 'stopped', 'done'] as const;
export type RoundState = (typeof ROUND_STATES)[number];

/** A round as lists show it. */
export interface Round {
  id: number;
  state: RoundState;
  /** Why it does not go on by itself; null where it does, or is over. */
  reason: Message | null;
  /** Name of the service; null for the evidence drafter. */
  drafter: string | null;
  model: string | null;
  act: string;
  at: string;
  finishedAt: string | null;
  total: number;
  done: number;
  /** Of those done: with a draft, with nothing to say, and not done because of an error. */
  drafted: number;
  silent: number;
  failures: { reason: Message; items: number }[];
  spent: number;
  budget: number | null;
  currency: string | null;
  /** Answers a minute over the last minutes; null while none came. */
  perMinute: number | null;
  /** Drafts of it that nobody has read yet, and the results of the others. */
  toRead: number;
  accepted: number;
  edited: number;
  rejected: number;
}

/** Who made a draft: null for the evidence drafter's service, model and prompt. */
export interface DraftOrigin {
  service: string | null;
  model: string | null;
  /** Version of the prompt: Detto's own, and that of the collection's instructions, such as `1.3`. */
  prompt: string | null;
  /** What it cost, in the currency of the service. */
  cost: number;
  currency: string | null;
}

/** What the audit found in a draft. */
export interface DraftFault {
  rule: string;
  outcome: Outcome;
  message: Message;
  span: { start: number; end: number } | null;
}

/** What is kept with a wording that came from a draft. */
export interface DraftRecord {
  evidence: DraftEvidence[];
  missing: Message | null;
  confidence: number;
  uncertain: string[];
  other: OtherDrafts;
  origin: DraftOrigin;
  faults: DraftFault[];
  /** It shares nothing with what is known of the picture. */
  doubtful: boolean;
  /** Other texts that were drafted for the same place, the latest first. */
  alternatives: string[];
  /** Once it is accepted: by whom, the text as it was drafted, and how much of it was changed, from 0 to 1. */
  accepted?: { by: string | null; drafted: string; changed: number };
  rejected?: { reason: string | null };
}

export const READING_ORDERS = ['surest', 'doubtful', 'page'] as const;

/** Which drafts are read, and in which order. */
export const ReadingView = z.object({
  /** Null for all that wait in the collection. */
  round: z.union([z.null(), z.coerce.number().int().positive()]).catch(null).default(null),
  order: z.enum(READING_ORDERS).catch('surest'),
});
export type ReadingView = z.infer<typeof ReadingView>;

/** One draft among those to be read; drafts of one picture with the same text are one. */
export interface DraftItem {
  /** Of the wording that stands for them. */
  id: number;
  ids: number[];
  picture: number;
  thumb: string | null;
  grade: number;
  /** It has no findings, gaps or doubts. */
  clean: boolean;
  text: string;
  similarGroup: number | null;
}

export interface ReadingList {
  items: DraftItem[];
  /** How many of those that wait are without findings, gaps and doubts. */
  clean: number;
  /** What a person has decided so far, in this round or in the collection. */
  decided: {
    accepted: number;
    edited: number;
    rejected: number;
    decorative: number;
    /** How often somebody has decided. */ acts: number;
  };
}

/** All that somebody needs to decide about one draft. */
export interface DraftPage {
  id: number;
  /** All places it is for. */
  places: number[];
  appearanceId: number;
  picture: {
    id: number;
    name: string | Message;
    src: string;
    width: number | null;
    height: number | null;
    reach: number;
  };
  kind: string | null;
  page: { path: string; title: string };
  lang: string | null;
  before: string;
  after: string;
  caption: string | null;
  /** What stands there now. */
  state: State;
  heard: string;
  text: string;
  gaps: Gap[];
  limit: number;
  record: DraftRecord;
  at: string;
  /** Drafts of look-alikes that wait too. */
  alike: DraftItem[];
}

/** One row of the results of drafts. */
export interface DraftingFigures {
  drafter: string | null;
  model: string | null;
  prompt: string | null;
  accepted: number;
  edited: number;
  /** Mean share that was changed of those that were edited, from 0 to 1; null for none. */
  changed: number | null;
  rejected: number;
  reasons: { reason: string | null; drafts: number }[];
  waiting: number;
}

/** Why a draft was rejected, as an editor chooses it. */
export const REJECT_REASONS = ['wrong', 'too-vague', 'too-long', 'style', 'not-needed', 'other'] as const;
export type RejectReason = (typeof REJECT_REASONS)[number];

/** What an editor decides about drafts. */
export const Decision = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('accept'),
    /** Another text than the drafted one; left out to accept it as it stands. */
    text: z.string().trim().max(20_000).optional(),
    by: z.string().trim().max(80).nullable().default(null),
  }),
  z.object({ kind: z.literal('reject'), reason: z.enum(REJECT_REASONS).nullable().default(null) }),
  z.object({ kind: z.literal('decorative'), by: z.string().trim().max(80).nullable().default(null) }),
]);
export type Decision = z.infer<typeof Decision>;

/** How drafting goes for a collection by itself. */
export const DraftingPlan = z.object({
  /** Drafts for pictures that a survey finds first: by which drafter, and for how much; null for none. */
  newPictures: z
    .object({ service: DrafterChoice, budget: z.number().min(0).max(1_000_000).nullable().default(null) })
    .nullable()
    .default(null),
});
export type DraftingPlan = z.infer<typeof DraftingPlan>;
