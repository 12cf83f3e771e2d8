import type { z } from 'zod';
import type { TargetId, VERIFIED } from '@/contract/delivery';
import type { FormatId } from '@/core/model/document';
import type { Message } from '@/core/model/message';
import { UserError } from '@/core/model/user-error';
import type { Collection } from '../../catalogue/collections';

/** A document with its texts in place, beside what it was. */
export interface DeliverableDocument {
  /** As in the collection. */
  path: string;
  /** Where it belongs below the root of what it goes to, with forward slashes. */
  file: string;
  format: FormatId;
  /** It is made by the delivery, and was nowhere before. */
  isNew: boolean;
  /** SHA-256 of its bytes as surveyed, null where it is new, and of those that go back. */
  hashBefore: string | null;
  hashAfter: string;
  /** Its bytes as surveyed; none where it is new. */
  before(): Promise<Buffer>;
  after(): Promise<Buffer>;
}

/** What a target says of a document that it has taken. */
export interface Receipt {
  /** Where it keeps the document. */
  address: string;
  hashBefore: string | null;
  hashAfter: string;
}

/** A target does not take a document, or cannot take it back; the others go on. */
export class DocumentRefusedError extends UserError {
  static override readonly code: string = 'document-refused';
}

/** A delivery that a target is about to take or took, with the folder that it may keep files of its own in. */
export interface DeliveryContext<C> {
  id: number;
  collectionId: string;
  configuration: C;
  /** Made when it is first needed, and there for as long as the delivery is remembered. */
  folder: string;
  startedAt: Date;
}

/** A file that can be downloaded: its name, and how many bytes it has. */
export interface DownloadFile {
  name: string;
  bytes: number;
}

/** A delivery while a target takes it, one document after the other. */
export interface DeliveryWriter {
  /** @throws DocumentRefusedError when it does not take this one */
  write(document: DeliverableDocument): Promise<Receipt>;
  /** @returns the file to download; null where the target keeps the documents itself */
  finish(): Promise<DownloadFile | null>;
  /** Called instead of `finish` when the delivery is stopped or fails. */
  abandon(): Promise<void>;
}

/** Where words go back to: a file to download, a folder, or a system that is given the documents. */
export interface DeliveryTarget<C extends Record<string, unknown> = Record<string, unknown>> {
  id: TargetId;
  /** What has to be known to deliver there; each part says by `meta` how people set it. */
  configuration: z.ZodObject<Record<string, z.ZodType>> & z.ZodType<C>;
  /** What its fields hold at first; null where it is not offered for a collection. */
  defaults(collection: Pick<Collection, 'kind' | 'root'>): C | null;
  /** Whether what it took of a delivery that was stopped is still there, so that only the rest is left. */
  keepsWhatItTook: boolean;
  takes(format: FormatId): boolean;
  /**
   * What it would do with a document, without touching anything.
   *
   * @returns whether it would make a file that was not there
   * @throws DocumentRefusedError when it would not take it
   * @throws UserError when it could take none
   */
  plan(document: DeliverableDocument, configuration: C): Promise<{ creates: boolean }>;
  /** @throws UserError when it can take none */
  open(context: DeliveryContext<C>): Promise<DeliveryWriter>;
  /**
   * Takes back what a receipt names; absent where that cannot be done.
   *
   * @throws DocumentRefusedError when what is there is not what was delivered
   */
  undo?(receipt: Receipt, context: DeliveryContext<C>): Promise<void>;
  /** What is there now in place of what was delivered; absent where nobody can look. */
  verify?(receipt: Receipt, configuration: C): Promise<(typeof VERIFIED)[number]>;
}

/** A reason as what a target throws. */
export const refuse = (id: string, values: Message['values'] = {}): DocumentRefusedError =>
  new DocumentRefusedError({ id, values });
