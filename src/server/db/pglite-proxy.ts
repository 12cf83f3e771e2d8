import { existsSync } from 'node:fs';
import path from 'node:path';
import { Worker } from 'node:worker_threads';
import { whyUnwritable } from '../disk';
import { log } from '../log';
import { DatabaseDownError } from './database-errors';
import { copyTemplate } from './database-template';
import type { DatabaseAnswer, DatabaseOptions, DatabaseRequest } from './worker-protocol';

type Body = DatabaseRequest extends infer R ? (R extends { id: number } ? Omit<R, 'id'> : never) : never;
interface QueryOptions {
  rowMode?: 'array' | 'object';
  parsers?: unknown;
}

/** What drizzle-orm/pglite asks of a client. */
interface Client {
  query(sql: string, params?: unknown[], options?: QueryOptions): Promise<unknown>;
  exec(sql: string): Promise<unknown>;
}

export interface DatabaseProxy extends Client {
  transaction<T>(work: (tx: Client) => Promise<T>): Promise<T>;
  close(): Promise<void>;
}

export interface ProxyLimits {
  /** Milliseconds for opening, which after a kill includes reading the log. */
  open: number;
  /** Milliseconds without any answer after which the thread is given up, and after which it is suspected that nothing can be written. */
  silence: number;
  suspicion: number;
  /** Milliseconds between two attempts to open it again. */
  pause: number;
}

const LIMITS: ProxyLimits = { open: 120_000, silence: 180_000, suspicion: 5_000, pause: 1_000 };

const databaseThread = (options: DatabaseOptions) =>
  new Worker(path.join(process.cwd(), 'dist', 'workers', 'database.js'), {
    workerData: options,
    // Long statements pass through it, and what it once took it keeps.
    resourceLimits: { maxYoungGenerationSizeMb: 12 },
  });

const ended = (worker: Worker) =>
  new Promise<void>((resolve, reject) => {
    worker.once('error', reject);
    worker.once('exit', (code) => (code === 0 ? resolve() : reject(new Error(`it ended with ${code}`))));
  });

/** @throws Error when the thread fails, ends or takes longer than `limit` milliseconds before it is ready */
function ready(worker: Worker, limit: number): Promise<void> {
  return new Promise((resolve, reject) => {
    const settle = (error: Error | null) => {
      clearTimeout(timer);
      worker.off('error', settle).off('exit', exited).off('message', answered);
      if (error) reject(error);
      else resolve();
    };
    const exited = () => settle(new Error('its thread ended while it opened'));
    const answered = () => settle(null);
    const timer = setTimeout(() => settle(new Error('it did not open in time')), limit);
    worker.on('error', settle).on('exit', exited).on('message', answered);
  });
}

/** One life of the thread: from opening the database to its end. */
class DatabaseThread {
  private readonly waiting = new Map<number, { resolve(result: unknown): void; reject(error: Error): void }>();
  private lastId = 0;
  private lastAnswer = Date.now();
  private watch: NodeJS.Timeout | null = null;
  private checking = false;
  /** Why it cannot be asked any more; null while it lives. */
  gone: Error | null = null;

  private constructor(
    private readonly worker: Worker,
    private readonly folder: string,
    private readonly limits: ProxyLimits,
  ) {
    worker.on('message', (m: DatabaseAnswer) => this.take(m));
    worker.on('error', (error: Error) => void this.end(error.message));
    worker.on('exit', () => void this.end('its thread ended'));
  }

  /** @throws Error when it cannot be opened */
  static async open(options: DatabaseOptions, limits: ProxyLimits): Promise<DatabaseThread> {
    if (!existsSync(options.dataDir)) {
      if (options.template) await copyTemplate(options.template, options.dataDir);
      else await ended(databaseThread(options));
    }
    const worker = databaseThread(options);
    try {
      await ready(worker, limits.open);
    } catch (error) {
      await worker.terminate();
      throw error;
    }
    return new DatabaseThread(worker, options.dataDir, limits);
  }

  private take(m: DatabaseAnswer): void {
    this.lastAnswer = Date.now();
    if ('ready' in m) return;
    if ('ended' in m) return void this.end(m.ended);
    const call = this.waiting.get(m.id);
    this.waiting.delete(m.id);
    if (m.error) call?.reject(Object.assign(new Error(m.error.message), m.error));
    else call?.resolve(m.result);
    if (this.waiting.size === 0) this.unwatch();
  }

  ask(body: Body): Promise<unknown> {
    if (this.gone) return Promise.reject(this.gone);
    return new Promise((resolve, reject) => {
      const id = ++this.lastId;
      if (this.waiting.size === 0) this.lastAnswer = Date.now();
      this.waiting.set(id, { resolve, reject });
      this.watch ??= setInterval(() => void this.check(), Math.min(1000, this.limits.suspicion)).unref();
      this.worker.postMessage({ id, ...body });
    });
  }

  /** A thread that computes cannot be asked how it is: one that is silent for too long is given up. */
  private async check(): Promise<void> {
    const silent = Date.now() - this.lastAnswer;
    if (silent < this.limits.suspicion || this.checking) return;
    this.checking = true;
    if (silent >= this.limits.silence || (await whyUnwritable(this.folder))) await this.end('it does not answer');
    this.checking = false;
  }

  private unwatch(): void {
    if (this.watch) clearInterval(this.watch);
    this.watch = null;
  }

  /** Whoever waits is reported; nothing of theirs was done. */
  private async end(reason: string): Promise<void> {
    if (this.gone) return;
    this.gone = new DatabaseDownError(`The database ended (${reason}).`);
    this.unwatch();
    log.error({ reason }, 'the database ended and will be opened again');
    this.gone = (await whyUnwritable(this.folder)) ?? this.gone;
    for (const call of this.waiting.values()) call.reject(this.gone);
    this.waiting.clear();
    await this.worker.terminate();
  }

  async close(): Promise<void> {
    if (!this.gone) await this.ask({ op: 'close' });
    this.gone ??= new DatabaseDownError('The database is closed.');
    this.unwatch();
    await this.worker.terminate();
  }
}

/** While nothing can be written, opening would hang as writing did. */
async function reopen(options: DatabaseOptions, limits: ProxyLimits): Promise<DatabaseThread> {
  const unwritable = await whyUnwritable(options.dataDir);
  if (unwritable) throw unwritable;
  try {
    return await DatabaseThread.open(options, limits);
  } catch (error) {
    throw new DatabaseDownError(`The database could not be opened again (${(error as Error).message}).`);
  }
}

/**
 * Opens the embedded database in a worker thread and speaks to it as if it were here. When the thread ends or hangs, as
 * on a full disk or in a folder that may not be written any more, whoever waits is reported, and the next call opens it again.
 *
 * @throws Error when it cannot be opened the first time
 */
export async function openDatabaseWorker(
  options: DatabaseOptions,
  limits: ProxyLimits = LIMITS,
): Promise<DatabaseProxy> {
  let thread = Promise.resolve(await DatabaseThread.open(options, limits));
  let opened = 0;
  let closed = false;

  const living = async (): Promise<DatabaseThread> => {
    const known = await thread.catch(() => null);
    if (known && !known.gone) return known;
    if (closed) throw new DatabaseDownError('The database is closed.');
    // The first to ask after its end opens it; the others wait for that.
    if (Date.now() - opened >= limits.pause) {
      opened = Date.now();
      thread = reopen(options, limits);
      thread.catch(() => undefined);
    }
    const found = await thread;
    if (found.gone) throw found.gone;
    return found;
  };
  const clientOf = (asked: () => Promise<DatabaseThread>, tx?: number): Client => ({
    query: async (sql, params, o) =>
      (await asked()).ask({
        op: 'query',
        sql,
        plain: o?.parsers !== undefined,
        ...(tx === undefined ? {} : { tx }),
        ...(params ? { params } : {}),
        ...(o?.rowMode ? { rowMode: o.rowMode } : {}),
      }),
    exec: async (sql) => (await asked()).ask({ op: 'exec', sql, ...(tx === undefined ? {} : { tx }) }),
  });
  return {
    ...clientOf(living),
    async transaction(work) {
      // All of a transaction happens in one life of the thread.
      const own = await living();
      const tx = (await own.ask({ op: 'begin' })) as number;
      try {
        const result = await work(clientOf(() => Promise.resolve(own), tx));
        await own.ask({ op: 'commit', tx });
        return result;
      } catch (error) {
        await own.ask({ op: 'rollback', tx }).catch(() => undefined);
        throw error;
      }
    },
    async close() {
      closed = true;
      await (await thread.catch(() => null))?.close();
    },
  };
}
