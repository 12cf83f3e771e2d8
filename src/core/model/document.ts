import type { Credit } from '../picture/credit';
import type { Message } from './message';
import type { Placement } from './texts';
import type { StyleSheet } from '../formats/html/backgrounds';
import type { PageReading } from './page';

/** The document formats that Detto reads and writes. */
export type FormatId = 'html';

/** What is known of a file before it is read. */
export interface FileHead {
  /** Its first bytes: 512 are enough. */
  bytes: Uint8Array;
  /** Its name or address; empty where it has none. */
  name: string;
  /** Its media type, as a server or an archive gives it; null where nobody does. */
  type: string | null;
}

/** What a format may need to know besides the bytes. */
export interface ReadContext {
  /** Charset of the transport, where the document came with one. */
  transport?: string;
  /** Style sheets that the document leads to, in the order in which they count. */
  sheets?: readonly StyleSheet[];
}

/** The texts that one appearance is to have; those that are absent stay as they are. */
export interface Edit {
  /** `Appearance.order` in the page as it was surveyed. */
  order: number;
  /** Alt text; `''` makes it decorative. */
  text?: string;
  /** `''` takes it away, as with the caption. */
  title?: string;
  caption?: string;
  /** For a line below the picture; null takes away the one that was delivered. */
  credit?: Credit | null;
  /** Null takes away the one that was delivered. */
  longDescription?: LongDescriptionEdit | null;
  /** Id of the element that holds the long description: the same in every delivery, so that it is found again. */
  id?: string;
}

export interface LongDescriptionEdit extends Placement {
  /** CommonMark with tables. */
  text: string;
  /** What of: stands in the summary or the link, after "Long description:". */
  name: string;
  /** Address of the page that it stands on, as seen from this one; null where it stands on this one. */
  href: string | null;
}

/** What of an appearance a change is made to: the attributes of its element, or something beside it. */
export const PARTS = ['attributes', 'caption', 'credit', 'long-description'] as const;
export type Part = (typeof PARTS)[number];

/** One change of the source, for people to read before it is delivered. */
export interface Change {
  order: number;
  part: Part;
  line: number;
  /** The whole start tag, or what stands beside it, decoded, before and after; empty where nothing stands there. */
  before: string;
  after: string;
}

/** A text that cannot be put into the document, and why. */
export interface Refusal {
  order: number;
  part: Part;
  line: number;
  reason: Message;
}

/** A document with its edits in place, with all that was changed and all that could not be. */
export interface WrittenDocument {
  bytes: Uint8Array;
  changes: Change[];
  refusals: Refusal[];
}

/** How documents of one format are read and written. */
export interface DocumentFormat {
  id: FormatId;
  /** Whether a file is of this format, by its first bytes, else by its type or name. */
  matches(head: FileHead): boolean;
  /** @throws Error in words when the bytes cannot be read */
  read(bytes: Uint8Array, context?: ReadContext): Promise<PageReading>;
  /**
   * Puts words into a document; every byte that they do not concern stays.
   *
   * @throws RangeError when an edit names an appearance that the document does not have
   */
  write(bytes: Uint8Array, edits: Edit[], context?: Pick<ReadContext, 'transport'>): Promise<WrittenDocument>;
}
