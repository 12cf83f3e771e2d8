import { z } from 'zod';
import { PURPOSES } from '@/core/model/appearance';
import type { Message } from '@/core/model/message';

/** What is done to many places at one stroke. */
export const BulkWork = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('decorative') }),
  z.object({ kind: z.literal('words'), text: z.string().trim().min(1).max(20_000) }),
  z.object({ kind: z.literal('purpose'), purpose: z.enum(PURPOSES) }),
  z.object({
    kind: z.literal('ignore'),
    rule: z.string().min(1).max(40),
    reason: z.string().trim().min(1).max(400),
    by: z.string().trim().min(1).max(80),
  }),
  /** Thumbnails are named by the page that they lead to. */
  z.object({ kind: z.literal('page-title') }),
  z.object({ kind: z.literal('accept') }),
  z.object({ kind: z.literal('reject') }),
  z.object({
    kind: z.literal('replace'),
    find: z.string().min(1).max(500),
    put: z.string().max(500),
    matchCase: z.boolean().default(false),
    wholeWords: z.boolean().default(false),
    /** Texts that are left as they are. */
    except: z.array(z.string()).max(2000).default([]),
  }),
]);
export type BulkWork = z.infer<typeof BulkWork>;

/** What is stored of an act on many places: such work, or texts for appearances by their ids. */
export type StoredWork =
  | BulkWork
  | { kind: 'texts'; texts: [appearanceId: number, text: string][] }
  /** Texts from a table, to be read as drafts; `source` names it. */
  | { kind: 'drafts'; texts: [appearanceId: number, text: string][]; source: string };

/** Why a place is left out. */
export const LEFT_OUT = [
  'names-control',
  'decorative-already',
  'says-it-already',
  'no-page',
  'no-draft',
  'has-gaps',
  'no-finding',
] as const;
export type LeftOut = (typeof LEFT_OUT)[number];

/** A text that would become another one, and in how many places. */
export interface TextChange {
  before: string;
  after: string;
  places: number;
  /** A picture that has it. */
  picture: string | Message;
}

/** What a bulk act would do. */
export interface BulkPreview {
  pictures: number;
  places: number;
  /** Of them, those that have a text which would no longer be heard. */
  replaced: number;
  leftOut: { why: LeftOut; places: number }[];
  /** The first of the texts that would change, those in most places first. */
  changes: TextChange[];
  /** How many different texts would change. */
  texts: number;
}

/** How far a bulk act is. */
export interface BulkState {
  state: 'running' | 'done' | 'failed';
  done: number;
  total: number;
  /** Places where something was done, as of now. */
  places: number;
}
