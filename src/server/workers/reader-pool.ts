import { fork } from 'node:child_process';
import path from 'node:path';
import { Worker } from 'node:worker_threads';
import type { PageReading } from '@/core/model/page';
import type { StyleSheet } from '@/core/formats/html/backgrounds';
import type { DomSnapshot } from '@/core/formats/html/snapshot';
import type { Recognition } from '@/core/picture/recognised';
import { WorkerPool, type WorkerHandle } from './worker-pool';
import { headFacts } from './picture-header';
import { DocumentError } from '@/core/formats/document-error';
import type {
  DocumentReading,
  Edit,
  FormatId,
  FrontMatterKeys,
  WriteContext,
  WrittenDocument,
} from '@/core/model/document';
import { watchMemory } from './memory-watch';
import type {
  Answer,
  AnalysisTask,
  DocumentResult,
  DocumentTask,
  RecognitionTask,
  PictureFacts,
  AnalysisResult,
  ReadTask,
} from './tasks';

/** A page or picture that takes longer is given up, in milliseconds. */
const TASK_LIMIT = 15_000;
const MEMORY_LIMIT_MB = 768;
/** Small, because it is never given back; a larger one was not faster. */
const YOUNG_MB = 12;

const scriptOf = (name: string) => path.join(process.cwd(), 'dist', 'workers', `${name}.js`);

/** What is read in plain JavaScript is read in a thread: it can be ended at any moment. */
function thread<Task, Result>(script: string): WorkerHandle<Task, Answer<Result>> {
  const worker = new Worker(script, {
    resourceLimits: { maxOldGenerationSizeMb: MEMORY_LIMIT_MB, maxYoungGenerationSizeMb: YOUNG_MB },
  });
  worker.on('error', () => undefined);
  return {
    send: (task) => worker.postMessage(task),
    end: () => void worker.terminate(),
    // A new thread would have to be warmed up again.
    rest: () => worker.postMessage('rest'),
    onAnswer: (take) => void worker.on('message', take),
    onGone: (take) => void worker.on('exit', take),
  };
}

/** Native decoders that hang can only be ended with their process. */
function processOf<Task extends object, Result>(
  script: string,
  mostMegabytes?: number,
): WorkerHandle<Task, Answer<Result>> {
  const child = fork(script, [], {
    serialization: 'advanced',
    execArgv: [`--max-old-space-size=${MEMORY_LIMIT_MB}`],
    stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
  });
  child.on('error', () => undefined);
  if (mostMegabytes !== undefined) watchMemory(child, mostMegabytes);
  return {
    send: (task) => void child.send(task),
    end: () => void child.kill('SIGKILL'),
    onAnswer: (take) => void child.on('message', take),
    onGone: (take) => void child.on('exit', take),
  };
}

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
    this.pool ??= new WorkerPool(
      1,
      () => processOf<RecognitionTask, Recognition>(scriptOf('recogniser')),
      RECOGNITION_TIMEOUT_MS,
    );
    return given(await this.pool.ask(task));
  }

  close(): void {
    this.pool?.close();
    this.pool = null;
  }
}

/** A document is larger than a page, and a PDF is decoded page by page. */
const DOCUMENT_LIMIT = 120_000;
/** Memory of a process that reads a PDF, beyond which it is ended. */
const PDF_MEGABYTES = 1_500;

/** Reads hostile pages and pictures apart from the process that serves people. */
export class ReaderPool {
  private readonly threads: WorkerPool<ReadTask, Answer<PageReading | PictureFacts>>;
  private readonly processes: WorkerPool<AnalysisTask, Answer<AnalysisResult | Uint8Array>>;
  private readonly documents: WorkerPool<DocumentTask, Answer<DocumentResult>>;
  private readonly pdfs: WorkerPool<DocumentTask, Answer<DocumentResult>>;

  constructor(
    size: number,
    limit = TASK_LIMIT,
    scripts = { reader: scriptOf('reader'), analyser: scriptOf('analyser'), documents: scriptOf('documents') },
  ) {
    this.threads = new WorkerPool(size, () => thread<ReadTask, PageReading | PictureFacts>(scripts.reader), limit);
    const documentLimit = Math.max(limit, DOCUMENT_LIMIT);
    this.documents = new WorkerPool(1, () => thread<DocumentTask, DocumentResult>(scripts.documents), documentLimit);
    this.pdfs = new WorkerPool(
      1,
      () => processOf<DocumentTask, DocumentResult>(scripts.documents, PDF_MEGABYTES),
      documentLimit,
    );
    this.processes = new WorkerPool(
      size,
      () => processOf<AnalysisTask, AnalysisResult | Uint8Array>(scripts.analyser),
      limit,
    );
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

  private askDocument(task: DocumentTask): Promise<Answer<DocumentResult>> {
    return (task.format === 'pdf' ? this.pdfs : this.documents).ask(task);
  }

  /**
   * What a document that is no web page holds.
   *
   * @param frontMatter keys of Markdown that name pictures; the usual ones where absent
   * @throws DocumentError when it cannot be read; Error when it made the reader fail
   */
  async document(
    bytes: Buffer,
    format: FormatId,
    name: string,
    frontMatter?: readonly FrontMatterKeys[],
  ): Promise<DocumentReading> {
    const keys = frontMatter ? { frontMatter } : {};
    return given(await this.askDocument({ kind: 'document', format, bytes, name, ...keys })) as DocumentReading;
  }

  /**
   * The file of a picture that a document holds.
   *
   * @throws DocumentError when it has no such picture
   */
  async held(bytes: Buffer, format: FormatId, picture: string): Promise<Buffer> {
    return Buffer.from(given(await this.askDocument({ kind: 'held', format, bytes, name: '', picture })) as Uint8Array);
  }

  /**
   * A document with words put into it.
   *
   * @throws DocumentError when it may not be written
   */
  async write(
    bytes: Buffer,
    format: FormatId,
    name: string,
    edits: Edit[],
    context: Omit<WriteContext, 'name'> = {},
  ): Promise<WrittenDocument> {
    return given(await this.askDocument({ kind: 'write', format, bytes, name, edits, context })) as WrittenDocument;
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
  }

  /** Ends threads and processes; what is waiting is never answered. */
  close(): void {
    this.threads.close();
    this.processes.close();
    this.documents.close();
    this.pdfs.close();
  }
}

function given<T>(answer: Answer<T>): T {
  if ('error' in answer) throw answer.reason ? new DocumentError(answer.reason) : new Error(answer.error);
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
