import type { PageReading } from '@/core/model/page';
import type { DomSnapshot } from '@/core/formats/html/snapshot';
import type { ReadList, ReadListOptions } from '@/core/lists/read-list';
import { UserError } from '@/core/model/user-error';
import type { Recognition } from '@/core/picture/recognised';
import { DocumentError } from '@/core/formats/document-error';
import type { DocumentReading, Edit, FormatId, WriteContext, WrittenDocument } from '@/core/model/document';
import { reasonOf } from '../log';
import { headFacts } from './picture-header';
import { processOf, scriptOf, threadOf } from './worker-handles';
import { WorkerPool } from './worker-pool';
import type {
  Answer,
  AnalysisTask,
  DocumentContext,
  DocumentResult,
  DocumentTask,
  RecognitionTask,
  PictureFacts,
  AnalysisResult,
  ReadTask,
  TableResult,
  TableTask,
} from './tasks';
import type { StyleSheet } from '@/core/model/document';

/** Milliseconds of processor time after which a page or a picture is given up. */
const TASK_LIMIT = 15_000;
/** The same of a table, and of each megabyte of a document, which has one at least. */
const TABLE_LIMIT = 20_000;
const DOCUMENT_LIMIT = 20_000;
const MEGABYTE = 1024 * 1024;

/** Text and things of one picture take about a second; what takes longer than this is given up. */
const RECOGNITION_TIMEOUT_MS = 20_000;

/** Reads text and things in pictures; its process, whose models take some 400 MB, lives as long as somebody needs it. */
export class Recogniser {
  private pool: WorkerPool<RecognitionTask, Answer<Recognition>> | null = null;
  private users = 0;

  /** Called by everybody who is about to read; gives back what says that they are done. */
  use(): () => void {
    this.users++;
    let done = false;
    return () => {
      if (done) return;
      done = true;
      this.users--;
      if (this.users === 0) this.close();
    };
  }

  /** @throws Error when the picture made it fail, with the reason in words */
  async recognise(task: RecognitionTask): Promise<Recognition> {
    this.pool ??= new WorkerPool(1, () => processOf<RecognitionTask, Answer<Recognition>>(scriptOf('recogniser')), {
      limit: RECOGNITION_TIMEOUT_MS,
    });
    return given(await this.pool.ask(task));
  }

  close(): void {
    this.pool?.close();
    this.pool = null;
  }
}

/** With this, a delivery takes a third less processor time than with the 12 MB of other threads (docs/benchmarks.md). */
const WRITER_YOUNG_MB = 64;

/** Memory of a process that reads a PDF, beyond which it is ended. */
const PDF_MEGABYTES = 1_500;

/** Reads hostile pages and pictures apart from the process that serves people. */
export class ReaderPool {
  private readonly threads: WorkerPool<ReadTask, Answer<PageReading | PictureFacts>>;
  private readonly processes: WorkerPool<AnalysisTask, Answer<AnalysisResult | Uint8Array>>;
  private readonly documents: WorkerPool<DocumentTask, Answer<DocumentResult>>;
  private readonly pdfs: WorkerPool<DocumentTask, Answer<DocumentResult>>;
  private readonly tables: WorkerPool<TableTask, Answer<TableResult>>;

  constructor(
    size: number,
    limit = TASK_LIMIT,
    scripts = { reader: scriptOf('reader'), analyser: scriptOf('analyser'), documents: scriptOf('documents') },
    documentLimit = DOCUMENT_LIMIT,
  ) {
    this.threads = new WorkerPool(size, () => threadOf(scripts.reader), { limit });
    this.processes = new WorkerPool(size, () => processOf(scripts.analyser), { limit });
    // One of the two is kept for what somebody waits for: a survey may be at a document for minutes.
    const ofDocuments = {
      limit: ({ bytes }: DocumentTask) => documentLimit * Math.max(1, bytes.byteLength / MEGABYTE),
      reserved: 1,
    };
    this.documents = new WorkerPool(2, () => threadOf(scripts.documents, WRITER_YOUNG_MB), ofDocuments);
    this.pdfs = new WorkerPool(2, () => processOf(scripts.documents, PDF_MEGABYTES), ofDocuments);
    this.tables = new WorkerPool(1, () => threadOf(scriptOf('tables')), { limit: TABLE_LIMIT });
  }

  /** @throws Error when the page cannot be read, with the reason in words */
  async page(bytes: Buffer, transport?: string, sheets: StyleSheet[] = []): Promise<PageReading> {
    const named = transport ? { transport } : {};
    return given(await this.threads.ask({ kind: 'page', bytes, sheets, ...named })) as PageReading;
  }

  /**
   * A page that was read, with what a browser made of it.
   *
   * @throws Error when the snapshot cannot be read, with the reason in words
   */
  async rendered(reading: PageReading, snapshot: DomSnapshot): Promise<PageReading> {
    return given(await this.threads.ask({ kind: 'rendered', reading, snapshot })) as PageReading;
  }

  private async askDocument(task: DocumentTask, urgent: boolean): Promise<DocumentResult> {
    return given(await (task.format === 'pdf' ? this.pdfs : this.documents).ask(task, urgent));
  }

  /**
   * What a document holds, or a web page that somebody waits for.
   *
   * @param urgent somebody waits for it
   * @throws DocumentError when it cannot be read; UserError when it made the reader fail
   */
  async document(
    bytes: Uint8Array,
    format: FormatId,
    name: string,
    context: DocumentContext = {},
    urgent = false,
  ): Promise<DocumentReading> {
    const task: DocumentTask = { kind: 'document', format, bytes, name, context };
    return (await this.askDocument(task, urgent)) as DocumentReading;
  }

  /**
   * The file of a picture that a document holds.
   *
   * @param urgent somebody waits for it
   * @throws DocumentError when it has no such picture
   */
  async held(bytes: Uint8Array, format: FormatId, picture: string, urgent = false): Promise<Buffer> {
    const task: DocumentTask = { kind: 'held', format, bytes, name: '', picture };
    return Buffer.from((await this.askDocument(task, urgent)) as Uint8Array);
  }

  /**
   * A document with words put into it, and proved to say them.
   *
   * @throws DocumentError when it may not be written
   */
  async write(
    bytes: Uint8Array,
    format: FormatId,
    name: string,
    edits: Edit[],
    context: Omit<WriteContext, 'name'> = {},
  ): Promise<WrittenDocument> {
    const task: DocumentTask = { kind: 'write', format, bytes, name, edits, context };
    return (await this.askDocument(task, true)) as WrittenDocument;
  }

  /** How a document differs from what it was, as a unified diff; `name` is where it is kept. */
  async diff(before: Uint8Array, after: Uint8Array, name: string, isNew: boolean): Promise<Uint8Array> {
    const task: DocumentTask = { kind: 'diff', format: 'html', bytes: before, after, name, isNew };
    return (await this.askDocument(task, true)) as Uint8Array;
  }

  /**
   * The rows of a list that comes back.
   *
   * @throws UserError when it is none, or took too long to read
   */
  async list(bytes: Uint8Array, options: ReadListOptions): Promise<ReadList> {
    return given(await this.tables.ask({ kind: 'list', bytes, options }).catch(unreadable)) as ReadList;
  }

  /**
   * The web addresses in a table or a text.
   *
   * @throws UserError when it cannot be read, or took too long
   */
  async addresses(bytes: Uint8Array): Promise<string[]> {
    return given(await this.tables.ask({ kind: 'addresses', bytes }).catch(unreadable)) as string[];
  }

  /** @throws Error when the picture made the reader fail, with the reason in words */
  async picture(bytes: Buffer): Promise<PictureFacts> {
    return headFacts(bytes) ?? (given(await this.threads.ask({ kind: 'picture', bytes })) as PictureFacts);
  }

  /** @throws Error when the picture made the reader fail, with the reason in words */
  async look(bytes: Buffer): Promise<AnalysisResult> {
    return given(await this.processes.ask({ bytes })) as AnalysisResult;
  }

  /**
   * The picture as WebP.
   *
   * @throws Error when it has no such copy, or made the reader fail, with the reason in words
   */
  async lighter(bytes: Buffer): Promise<Buffer> {
    return Buffer.from(given(await this.processes.ask({ bytes, copy: true })) as Uint8Array);
  }

  /**
   * The picture as it is sent to a drafting service: JPEG.
   *
   * @param maxSide pixels of its longer side at most
   * @throws Error when it cannot be drawn, with the reason in words
   */
  async viewToSend(bytes: Buffer, maxSide: number): Promise<Buffer> {
    return Buffer.from(given(await this.processes.ask({ bytes, send: maxSide })) as Uint8Array);
  }

  /** Lets go what is not needed for now. */
  rest(): void {
    this.threads.rest();
    this.processes.rest();
    this.documents.rest();
    this.tables.rest();
  }

  /** Ends threads and processes; what is waiting is never answered. */
  close(): void {
    this.threads.close();
    this.processes.close();
    this.documents.close();
    this.pdfs.close();
    this.tables.close();
  }
}

/** A table that made its reader fail. */
function unreadable(error: unknown): never {
  throw new UserError({ id: 'list.unreadable', values: { reason: reasonOf(error) } });
}

function given<T>(answer: Answer<T>): T {
  if ('error' in answer) {
    if (answer.reason) throw new DocumentError(answer.reason);
    throw new UserError(answer.error);
  }
  return answer.result;
}

const shared = globalThis as typeof globalThis & { dettoReaders?: ReaderPool | null; dettoRecogniser?: Recogniser };

/** The one reader of text and things for all collections, across the bundles that Next makes of the server. */
export function sharedRecogniser(): Recogniser {
  return (shared.dettoRecogniser ??= new Recogniser());
}

/** The readers of this process, across the bundles that Next makes of the server. */
export function sharedReaders(): ReaderPool {
  return (shared.dettoReaders ??= new ReaderPool(2));
}

export function closeReaders(): void {
  shared.dettoReaders?.close();
  shared.dettoReaders = null;
}
