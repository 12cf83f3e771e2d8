import type { Message } from '@/core/model/message';
import type { Change, Refusal } from '@/core/model/document';

export interface DeliveryChange extends Change {
  appearanceId: number;
  pictureId: number;
  /** What will be heard once the page is in place; null when it is not what was accepted. */
  heard: string;
}

export interface DeliveryPage {
  path: string;
  title: string;
  /** Path in the ZIP. */
  file: string;
  changes: DeliveryChange[];
  /** Words that cannot be put back, with the reason. */
  refusals: (Refusal & { appearanceId: number; pictureId: number })[];
  /** Texts that wait for delivery on this page, whatever becomes of them. */
  waiting: number;
  /** Of them, those that wait for somebody to choose between two texts. */
  conflicts: { appearanceId: number; pictureId: number; line: number }[];
  /** Of them, those that an editor leaves out for now, with what they say; `''` is decorative. */
  aside: { appearanceId: number; pictureId: number; line: number; text: string }[];
  /** Why the whole page is left out; null when it is delivered. */
  leftOut: Message | null;
}
