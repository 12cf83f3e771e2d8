import type { Credit } from './credit';
import type { Message } from './message';
import type { Placement } from './texts';
import type { PageReading } from './page';

export const FORMAT_IDS = [
  'html',
  'docx',
  'pptx',
  'xlsx',
  'odt',
  'odp',
  'ods',
  'epub',
  'pdf',
  'mail',
  'markdown',
  'svg',
] as const;
/** The document formats that Detto reads and writes. */
export type FormatId = (typeof FORMAT_IDS)[number];

const READ_BY_LINE: readonly FormatId[] = ['html', 'markdown', 'mail', 'svg'];
/** Whether changes to documents of a format can be read line by line. */
export const isReadByLine = (format: FormatId): boolean => READ_BY_LINE.includes(format);

/** What is known of a file before it is read. */
export interface FileHead {
  /** Its first bytes: 512 are enough. */
  bytes: Uint8Array;
  /** Its name or address; empty where it has none. */
  name: string;
  /** Its media type, as a server or an archive gives it; null where nobody does. */
  type: string | null;
}

/** A key of front matter that names a picture, and one that holds its words; dots lead into what is nested, as in `cover.image`. */
export interface FrontMatterKeys {
  picture: string;
  words: string;
}

/** Keys in use among makers of static sites (common practice). */
export const FRONT_MATTER_KEYS: readonly FrontMatterKeys[] = [
  { picture: 'image', words: 'imageAlt' },
  { picture: 'image', words: 'image_alt' },
  { picture: 'image', words: 'alt' },
  { picture: 'cover', words: 'coverAlt' },
  { picture: 'cover', words: 'cover_alt' },
  { picture: 'featured_image', words: 'featured_image_alt' },
  { picture: 'thumbnail', words: 'thumbnailAlt' },
  { picture: 'thumbnail', words: 'thumbnail_alt' },
];

/** What a book's metadata is to say once none of its pictures is without words or a decision. */
export interface BookMetadata {
  /** The feature `alternativeText`, that and a summary, or nothing new. */
  adds: 'feature' | 'summary' | 'nothing';
  /** The summary; empty for our own in the language of the book. */
  summary: string;
}

/** A style sheet with the address that its references are resolved against; null for one in the page itself. */
export interface StyleSheet {
  address: string | null;
  css: string;
}

/** What a format may need to know besides the bytes. */
export interface ReadContext {
  /** Its name or address, where the format has variants that only the name tells. */
  name?: string;
  /** Charset of the transport, where the document came with one. */
  transport?: string;
  /** Style sheets that the document leads to, in the order in which they count. */
  sheets?: readonly StyleSheet[];
  /** Keys of front matter that are read; `FRONT_MATTER_KEYS` where absent. The first words key of a picture is the one that is added. */
  frontMatter?: readonly FrontMatterKeys[];
  /** Absent where only the feature is added. */
  book?: BookMetadata;
  /** When it is written, as `2026-11-28T08:40:00Z`: for documents that keep the time of their last change. */
  modified?: string;
}

/** What writing may need to know besides the bytes and the edits. */
export interface WriteContext extends Omit<ReadContext, 'sheets'> {
  /** The document as it was read in the same context, where it was; it is not read once more, then. */
  reading?: DocumentReading;
}

/** One page of a document: a slide, a sheet, a chapter, a message, or the whole. */
export interface DocumentPage {
  /** What names it within its document, such as `slide=4`; null where the document is one page. */
  fragment: string | null;
  reading: PageReading;
}

/** What a document holds. */
export interface DocumentReading {
  /** In the document's own order. */
  pages: DocumentPage[];
  /** What people should know of it before they work on it, such as that it is signed. */
  notes: Message[];
}

/** The texts that one appearance is to have; those that are absent stay as they are. */
export interface Edit {
  /** Of the page that it stands on; absent where the document is one page. */
  fragment?: string | null;
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
  fragment?: string | null;
  order: number;
  part: Part;
  line: number;
  /** The whole start tag, or what stands beside it, decoded, before and after; empty where nothing stands there. */
  before: string;
  after: string;
  /** The words alone, where before and after are markup that people do not read: in documents. */
  words?: { before: string; after: string };
  /** The part of the package that is changed, such as `word/document.xml`. */
  file?: string;
}

/** A text that cannot be put into the document, and why. */
export interface Refusal {
  fragment?: string | null;
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
  /** What people should know before they use it, such as that a signature breaks. */
  warnings?: Message[];
  /** The new document as it reads, where its writer had to read it. */
  reading?: DocumentReading;
}

/** How documents of one format are read and written. */
export interface DocumentFormat {
  id: FormatId;
  /** Whether a file is of this format, by its first bytes, else by its type or name. */
  matches(head: FileHead): boolean;
  /** @throws DocumentError when the bytes cannot be read */
  read(bytes: Uint8Array, context?: ReadContext): Promise<DocumentReading>;
  /**
   * The file of a picture that the document itself holds; absent where its pictures are files of their own.
   *
   * @param name `markup.src` of an appearance
   * @throws DocumentError when there is no such picture
   */
  picture?(bytes: Uint8Array, name: string): Promise<Uint8Array>;
  /**
   * The markup of a page, decoded, that the locations of its appearances count in; for formats whose pages are HTML inside.
   *
   * @throws DocumentError when there is no such page
   */
  markup?(bytes: Uint8Array, fragment: string | null): Promise<string>;
  /**
   * Puts words into a document; every byte that they do not concern stays.
   *
   * @throws RangeError when an edit names an appearance that the document does not have
   * @throws DocumentError when the document may not be written at all
   */
  write(bytes: Uint8Array, edits: Edit[], context?: WriteContext): Promise<WrittenDocument>;
}
