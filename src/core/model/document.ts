import type { Message } from './message';
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

/** The words that one appearance is to have; `''` makes it decorative. */
export interface Edit {
  /** `Appearance.order` in the page as it was surveyed. */
  order: number;
  text: string;
}

/** One change of the source, for people to read before it is delivered. */
export interface Change {
  order: number;
  line: number;
  /** The whole start tag, decoded, before and after. */
  before: string;
  after: string;
}

/** Words that cannot be put into the document, and why. */
export interface Refusal {
  order: number;
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
