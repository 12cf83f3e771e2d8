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

/** How far a delivery is that is being prepared, in documents. */
export interface DeliveryProgress {
  done: number;
  total: number;
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
