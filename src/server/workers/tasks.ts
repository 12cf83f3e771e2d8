import type {
  Edit,
  DocumentReading,
  FormatId,
  ReadContext,
  WriteContext,
  WrittenDocument,
} from '@/core/model/document';
import type { ReadList, ReadListOptions } from '@/core/lists/read-list';
import type { Message } from '@/core/model/message';
import type { PageReading } from '@/core/model/page';
import type { KindJudgement } from '@/core/picture/kind';
import type { Fingerprint } from '@/core/picture/fingerprint';
import type { PictureDetails } from '@/core/picture/details';
import type { DomSnapshot } from '@/core/formats/html/snapshot';
import type { StyleSheet } from '@/core/model/document';

/** What a reader thread is asked. */
export type ReadTask =
  | { kind: 'page'; bytes: Uint8Array; transport?: string; sheets: StyleSheet[] }
  | { kind: 'rendered'; reading: PageReading; snapshot: DomSnapshot }
  | { kind: 'picture'; bytes: Uint8Array };

/** What has to be known to read a document besides its bytes and its name. */
export type DocumentContext = Pick<ReadContext, 'frontMatter' | 'transport'>;

/** What a reader of tables is asked: for the rows of a list, or for the addresses in a table. */
export type TableTask = { bytes: Uint8Array } & ({ kind: 'list'; options: ReadListOptions } | { kind: 'addresses' });
export type TableResult = ReadList | string[];

/** What a reader of documents is asked: to read one, for a picture that it holds, for one with words put into it, or for how two of them differ. */
export type DocumentTask = { format: FormatId; bytes: Uint8Array; name: string } & (
  | { kind: 'document'; context: DocumentContext }
  | { kind: 'held'; picture: string }
  | { kind: 'write'; edits: Edit[]; context: Omit<WriteContext, 'name'> }
  /** `name` is where it is kept; it was nowhere before where it is new. */
  | { kind: 'diff'; after: Uint8Array; isNew: boolean }
);

export type DocumentResult = DocumentReading | WrittenDocument | Uint8Array;

/** What a analyser process is asked. */
export interface AnalysisTask {
  bytes: Buffer;
  /** Only a lighter copy is wanted. */
  copy?: true;
  /** Only what is sent to a drafting service is wanted: pixels of its longer side at most. */
  send?: number;
}

/** What a recogniser process is asked. */
export interface RecognitionTask {
  bytes: Buffer;
  /** Of the pages, as primary language subtags. */
  languages: string[];
  photo: boolean;
  /** Whether things are looked for too. */
  things: boolean;
}

/** `reason` where the document itself is at fault, as data. */
export type Answer<T> = { result: T } | { error: string; reason?: Message };

/** What the head of a picture's file says. */
export interface PictureFacts {
  sha256: string;
  /** By signature; null when it is no picture. */
  type: string | null;
  bytes: number;
  width: number | null;
  height: number | null;
  broken: Message | null;
}

/** What decoding it says. */
export interface AnalysisResult {
  broken: Message | null;
  /** Of a copy as WebP, in bytes, for files over the usual limit. */
  lighter: number | null;
  colours: string[];
  /** The file itself where it is small, else JPEG or WebP of at most 256 pixels each way; null where the library does not draw the type. */
  thumb: Buffer | null;
  kind: KindJudgement | null;
  fingerprint: Fingerprint | null;
  details: PictureDetails | null;
}
