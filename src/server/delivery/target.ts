import type { DeliveryPage } from '@/contract/delivery';

/** A page with its accepted words in place, beside what it was. */
export interface PreparedDocument extends DeliveryPage {
  before: Buffer;
  after: Buffer;
}

/** A file that a delivery gives to whoever asked for it. */
export interface DeliveredFile {
  name: string;
  type: string;
  bytes: Buffer;
}

/** What a target says of documents that it took. */
export interface Receipt {
  target: string;
  /** Their paths. */
  documents: string[];
  /** What can be downloaded; null where the target keeps the documents itself. */
  file: DeliveredFile | null;
}

/** Where words go back to: a file to download, or a system that is given the documents. */
export interface DeliveryTarget {
  id: string;
  /** Whether the pages themselves leave Detto by it, which is remembered; a list of changes is for reading first. */
  carriesPages: boolean;
  /** @throws Error in words when the documents cannot be delivered; some may have been, then */
  deliver(documents: readonly PreparedDocument[], signal: AbortSignal): Promise<Receipt[]>;
  /** Takes back what a receipt names; absent where that cannot be done. */
  undo?(receipt: Receipt): Promise<void>;
}
