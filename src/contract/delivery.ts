import { z } from 'zod';
import type { Field } from '@/core/house-style/fields';
import type { DraftRecord } from './drafting';
import type { Message } from '@/core/model/message';
import type { Change, FormatId, Refusal } from '@/core/model/document';

/** Where a place is found in a document: its page there, where on that, and its own key. */
export interface DocumentPlace {
  fragment: string | null;
  spot: Message | null;
  place: string;
}

export interface DeliveryChange extends Change {
  /** Absent on web pages, which have lines. */
  where?: DocumentPlace;
  appearanceId: number;
  pictureId: number;
  /** A long description as it was written, in CommonMark; null where the change is to something else. */
  reads: string | null;
  /** What will be heard once the page is in place; null where the change is to none of what is heard as its name. */
  heard: string | null;
  /** Who or what wrote it; null of texts other than the alt text. */
  writtenBy: { by: 'page' | 'person' | 'drafter'; draft: DraftRecord | null } | null;
}

export interface DeliveryPage {
  /** Of the document, where it has several pages. */
  path: string;
  format: FormatId;
  title: string;
  /** Path in the ZIP. */
  file: string;
  /** It is made by the delivery, and stood nowhere before. */
  isNew: boolean;
  changes: DeliveryChange[];
  /** Words that cannot be put back, with the reason. */
  refusals: (Refusal & { appearanceId: number; pictureId: number; where?: DocumentPlace })[];
  /** What people should know before they use it. */
  warnings: Message[];
  /** Texts that wait for delivery on this page, whatever becomes of them. */
  waiting: number;
  /** Of them, those that wait for somebody to choose between two texts. */
  conflicts: { appearanceId: number; pictureId: number; line: number; where?: DocumentPlace }[];
  /** Of them, those that an editor leaves out for now, with their alt text; `''` is decorative, null for a place with other texts only. */
  aside: { appearanceId: number; pictureId: number; line: number; text: string | null; where?: DocumentPlace }[];
  /** Why the whole page is left out; null when it is delivered. */
  leftOut: Message | null;
}

/** What waits for delivery in all documents together. */
export interface DeliverySums {
  /** Documents with texts that wait, and of them those that were compared and written. */
  documents: number;
  prepared: number;
  /** Changes that a delivery would make, and documents that it would change. */
  changes: number;
  changed: number;
  /** Of those documents, the ones whose changes can be read line by line. */
  changedTexts: number;
  /** The only document that would change; null where there are none or several. */
  only: { file: string; format: FormatId } | null;
  /** Texts that wait, whatever becomes of them. */
  waiting: number;
  /** Of them, those in documents that are left out, and how many documents those are. */
  leftOutTexts: number;
  leftOut: number;
  conflicts: number;
  refusals: number;
  aside: number;
}

/** A part of what a delivery would do, and how far that is worked out. */
export interface DeliveryPreview {
  sums: DeliverySums;
  /** Documents are being compared and written. */
  isPreparing: boolean;
  /** The earliest time at which one of them was compared with what was surveyed (ISO 8601); null before that. */
  comparedAt: string | null;
  pages: DeliveryPage[];
  /** Where the next part begins; null after the last. */
  next: number | null;
}

/** Documents in one part of a preview. */
export const PREVIEW_PART = 50;

export const TARGET_IDS = ['zip', 'diff', 'document', 'folder'] as const;
/** Where words go back to. */
export type TargetId = (typeof TARGET_IDS)[number];

/** What starts a delivery. */
export const StartDelivery = z.object({
  target: z.enum(TARGET_IDS),
  /** As the target's own fields say. */
  configuration: z.record(z.string(), z.unknown()).default({}),
});

export const DELIVERY_STATES = ['waiting', 'running', 'stopped', 'failed', 'done', 'undone'] as const;
export type DeliveryState = (typeof DELIVERY_STATES)[number];

/** One time that words went back, as it stands now. */
export interface Delivery {
  id: number;
  target: TargetId;
  state: DeliveryState;
  /** How far one is that is under way, from 0 to 1; null where nobody can say. */
  share: number | null;
  /** Documents that the target has taken, of how many, and changes in them. */
  pages: number;
  total: number;
  changes: number;
  /** Documents that it refused, or that could not be undone, some of them with the reason. */
  refused: { count: number; first: { path: string; reason: Message }[] };
  reason: Message | null;
  /** The folder that it went to; null for what is downloaded. */
  folder: string | null;
  file: { name: string; bytes: number } | null;
  canUndo: boolean;
  canVerify: boolean;
  /** ISO 8601. */
  at: string;
}

/** What a target finds where it has put a document. */
export const VERIFIED = ['as-written', 'different', 'gone'] as const;
export interface Verification {
  counts: Record<(typeof VERIFIED)[number], number>;
  /** Addresses of some that are different or gone. */
  first: { address: string; found: (typeof VERIFIED)[number] }[];
}

/** A target that can be chosen, with the fields of its configuration. */
export interface TargetChoice {
  id: TargetId;
  fields: Field[];
  /** What the fields hold at first. */
  configuration: Record<string, unknown>;
}

/** What a target would do, without touching anything. */
export interface DeliveryPlan {
  /** Documents that it would write, and new ones among them. */
  writes: number;
  creates: number;
  refused: { count: number; first: { path: string; reason: Message }[] };
}

/** A file that is to be renamed; links from elsewhere need its old address. */
export interface Rename {
  pictureId: number;
  from: string;
  to: string;
  /** Places that show it. */
  uses: number;
  /** Another file is to get the same name in the same folder. */
  isTaken: boolean;
}
