import { fork } from 'node:child_process';
import path from 'node:path';
import { Worker } from 'node:worker_threads';
import type { PageReading } from '@/core/model/appearance';
import type { StyleSheet } from '@/core/formats/html/backgrounds';
import type { DomSnapshot } from '@/core/formats/html/snapshot';
import type { Inside } from '@/core/picture/recognised';
import { Crew, type Hand } from './worker-pool';
import { headFacts } from './picture-header';
import type { Answer, LookTask, PeruseTask, PictureFacts, PictureLook, ReadTask } from './tasks';

/** A page or picture that takes longer is given up, in milliseconds. */
const TASK_LIMIT = 15_000;
const MEMORY_LIMIT_MB = 768;
/** Small, because it is never given back; a larger one was not faster. */
const YOUNG_MB = 12;

const scriptOf = (name: string) => path.join(process.cwd(), 'dist', 'workers', `${name}.js`);

/** What is read in plain JavaScript is read in a thread: it can be ended at any moment. */
function thread(script: string): Hand<ReadTask, Answer<PageReading | PictureFacts>> {
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
function processOf<Task extends LookTask, Result>(script: string): Hand<Task, Answer<Result>> {
  const child = fork(script, [], {
    serialization: 'advanced',
    execArgv: [`--max-old-space-size=${MEMORY_LIMIT_MB}`],
    stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
  });
  child.on('error', () => undefined);
  return {
    send: (task) => void child.send(task),
    end: () => void child.kill('SIGKILL'),
    onAnswer: (take) => void child.on('message', take),
    onGone: (take) => void child.on('exit', take),
  };
}

/** Text and things of one picture may take a while; a photo of many pixels takes longest. */
const PERUSE_LIMIT = 60_000;

/** Reads text and things in pictures; its process, whose models take some 400 MB, lives as long as somebody needs it. */
export class Peruser {
  private crew: Crew<PeruseTask, Answer<Inside>> | null = null;
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
  async peruse(task: PeruseTask): Promise<Inside> {
    this.crew ??= new Crew(1, () => processOf<PeruseTask, Inside>(scriptOf('peruser')), PERUSE_LIMIT);
    return given(await this.crew.ask(task));
  }

  close(): void {
    this.crew?.close();
    this.crew = null;
  }
}

/** Reads hostile pages and pictures apart from the process that serves people. */
export class ReaderPool {
  private readonly threads: Crew<ReadTask, Answer<PageReading | PictureFacts>>;
  private readonly processes: Crew<LookTask, Answer<PictureLook | Uint8Array>>;

  constructor(size: number, limit = TASK_LIMIT, scripts = { reader: scriptOf('reader'), looker: scriptOf('looker') }) {
    this.threads = new Crew(size, () => thread(scripts.reader), limit);
    this.processes = new Crew(size, () => processOf<LookTask, PictureLook | Uint8Array>(scripts.looker), limit);
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

  /** @throws Error when the picture made the reader fail, with the reason in words */
  async picture(bytes: Buffer): Promise<PictureFacts> {
    return headFacts(bytes) ?? (given(await this.threads.ask({ kind: 'picture', bytes })) as PictureFacts);
  }

  /** @throws Error when the picture made the reader fail, with the reason in words */
  async look(bytes: Buffer): Promise<PictureLook> {
    return given(await this.processes.ask({ bytes })) as PictureLook;
  }

  /**
   * The picture as WebP.
   *
   * @throws Error when it has no such copy, or made the reader fail, with the reason in words
   */
  async lighter(bytes: Buffer): Promise<Buffer> {
    return Buffer.from(given(await this.processes.ask({ bytes, copy: true })) as Uint8Array);
  }

  /** Lets go what is not needed for now. */
  rest(): void {
    this.threads.rest();
    this.processes.rest();
  }

  /** Ends threads and processes; what is waiting is never answered. */
  close(): void {
    this.threads.close();
    this.processes.close();
  }
}

function given<T>(answer: Answer<T>): T {
  if ('error' in answer) throw new Error(answer.error);
  return answer.result;
}

const shared = globalThis as typeof globalThis & { dettoReaders?: ReaderPool | null; dettoPeruser?: Peruser };

/** The one reader of text and things for all collections, across the bundles that Next makes of the server. */
export function sharedPeruser(): Peruser {
  return (shared.dettoPeruser ??= new Peruser());
}

/** The readers of this process, across the bundles that Next makes of the server. */
export function sharedReaders(): ReaderPool {
  return (shared.dettoReaders ??= new ReaderPool(2));
}

export function closeReaders(): void {
  shared.dettoReaders?.close();
  shared.dettoReaders = null;
}
