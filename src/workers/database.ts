/**
 * PGlite in a thread of its own: it computes without pause and would hold up every request. Where there is no database
 * yet, the thread makes one and ends.
 */
import { existsSync, renameSync, rmSync } from 'node:fs';
import { parentPort, workerData } from 'node:worker_threads';
import { types, type Transaction } from '@electric-sql/pglite';
import { openEmbedded } from '@/server/db/embedded';
import type { DatabaseAnswer, DatabaseOptions, DatabaseRequest } from '@/server/db/worker-protocol';

const port = parentPort!;
const { dataDir } = workerData as DatabaseOptions;

/** Drizzle parses dates itself; functions cannot be posted, so the same parsers are made here. */
const plain = (value: string) => value;
const PLAIN_PARSERS = Object.fromEntries(
  [types.TIMESTAMP, types.TIMESTAMPTZ, types.INTERVAL, types.DATE, 1231, 1115, 1185, 1187, 1182].map((t) => [t, plain]),
);

interface OpenTransaction {
  tx: Transaction;
  finish(commit: boolean): Promise<void>;
}

/** Made in another folder and moved into place, so that a process killed meanwhile leaves no half of a database. */
async function make(): Promise<void> {
  const making = `${dataDir}.new`;
  rmSync(making, { recursive: true, force: true });
  const made = await openEmbedded(making);
  await made.close();
  renameSync(making, dataDir);
}

if (!existsSync(dataDir)) {
  await make();
  // What making it took of memory goes with this thread; another one serves it.
  process.exit(0);
}
const db = await openEmbedded(dataDir);
const open = new Map<number, OpenTransaction>();

function begin(id: number): Promise<number> {
  return new Promise((started, failed) => {
    const whole = db.transaction(
      (tx) =>
        new Promise<void>((commit, rollback) => {
          open.set(id, {
            tx,
            finish: (keep) => {
              if (keep) commit();
              else rollback(new Error('rolled back'));
              return whole.catch((error: Error) => {
                if (keep) throw error;
              });
            },
          });
          started(id);
        }),
    );
    whole.catch(failed);
  });
}

async function perform(m: DatabaseRequest): Promise<unknown> {
  switch (m.op) {
    case 'begin':
      return begin(m.id);
    case 'close':
      return db.close();
    case 'commit':
    case 'rollback': {
      const transaction = open.get(m.tx)!;
      open.delete(m.tx);
      await transaction.finish(m.op === 'commit');
      return shortenLog();
    }
    default: {
      const on = m.tx === undefined ? db : open.get(m.tx)!.tx;
      if (m.op === 'exec') return on.exec(m.sql);
      return on.query(m.sql, m.params, {
        ...(m.rowMode ? { rowMode: m.rowMode } : {}),
        ...(m.plain ? { parsers: PLAIN_PARSERS } : {}),
      });
    }
  }
}

/** Milliseconds of writing after which the log may start again. */
const LOG_AGE = 15_000;
let begun = Date.now();

/** What a killed process leaves in its log is read at the next start, and nobody else here would ever shorten it. */
function shortenLog(): void {
  if (Date.now() - begun < LOG_AGE) return;
  begun = Date.now();
  db.exec('checkpoint').catch(() => undefined);
}

/** A file of its own that it may not write any more, as PostgreSQL says it; what it answers after that is not to be believed. */
const DENIED = /^could not .*: (?:Permission denied|Read-only file system|Operation not permitted)$/s;

/** After these the WebAssembly module is gone, whatever it still answers. */
const isEnd = (error: unknown): boolean =>
  error instanceof WebAssembly.RuntimeError ||
  (error instanceof Error &&
    (error.name === 'ExitStatus' || /^Aborted\(|PANIC/.test(error.message) || DENIED.test(error.message)));

port.on('message', (m: DatabaseRequest) => {
  perform(m).then(
    (result) => port.postMessage({ id: m.id, result } satisfies DatabaseAnswer),
    (e: Error & { code?: string; detail?: string; constraint?: string }) => {
      if (isEnd(e)) return port.postMessage({ ended: e.message } satisfies DatabaseAnswer);
      const error = { message: e.message, code: e.code, detail: e.detail, constraint: e.constraint };
      port.postMessage({ id: m.id, error } as DatabaseAnswer);
    },
  );
});
port.postMessage({ ready: true } satisfies DatabaseAnswer);
