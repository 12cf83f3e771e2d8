import path from 'node:path';
import { Worker } from 'node:worker_threads';
import { isDatabase, type DatabaseAnswer, type DatabaseOptions, type DatabaseRequest } from './worker-protocol';

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

const databaseThread = (options: DatabaseOptions) =>
  new Worker(path.join(process.cwd(), 'dist', 'workers', 'database.js'), {
    workerData: options,
    // Long statements pass through it, and what it once took it keeps.
    resourceLimits: { maxYoungGenerationSizeMb: 12 },
  });

const ended = (worker: Worker) =>
  new Promise<void>((resolve, reject) => {
    worker.once('error', reject);
    worker.once('exit', () => resolve());
  });

/** Opens the embedded database in a worker thread and speaks to it as if it were here. */
export async function openDatabaseWorker(options: DatabaseOptions): Promise<DatabaseProxy> {
  if (!isDatabase(options.dataDir)) await ended(databaseThread(options));
  const worker = databaseThread(options);
  const waiting = new Map<number, { resolve(result: unknown): void; reject(error: Error): void }>();
  let lastId = 0;
  await new Promise<void>((resolve, reject) => {
    worker.once('error', reject);
    worker.once('exit', () => reject(new Error(`The database in ${options.dataDir} could not be opened.`)));
    worker.on('message', (m: DatabaseAnswer) => {
      if ('ready' in m) return resolve();
      const call = waiting.get(m.id);
      waiting.delete(m.id);
      if (m.error) call?.reject(Object.assign(new Error(m.error.message), m.error));
      else call?.resolve(m.result);
    });
  });
  worker.on('error', (error: Error) => {
    for (const call of waiting.values()) call.reject(error);
    waiting.clear();
  });

  const call = (body: Body): Promise<unknown> =>
    new Promise((resolve, reject) => {
      const id = ++lastId;
      waiting.set(id, { resolve, reject });
      worker.postMessage({ id, ...body });
    });
  const client = (tx?: number): Client => ({
    query: (sql, params, o) =>
      call({
        op: 'query',
        sql,
        plain: o?.parsers !== undefined,
        ...(tx === undefined ? {} : { tx }),
        ...(params ? { params } : {}),
        ...(o?.rowMode ? { rowMode: o.rowMode } : {}),
      }),
    exec: (sql) => call({ op: 'exec', sql, ...(tx === undefined ? {} : { tx }) }),
  });
  return {
    ...client(),
    async transaction(work) {
      const tx = (await call({ op: 'begin' })) as number;
      try {
        const result = await work(client(tx));
        await call({ op: 'commit', tx });
        return result;
      } catch (error) {
        await call({ op: 'rollback', tx }).catch(() => undefined);
        throw error;
      }
    },
    async close() {
      await call({ op: 'close' });
      await worker.terminate();
    },
  };
}
