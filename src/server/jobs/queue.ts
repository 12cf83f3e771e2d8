import { sql, type SQL } from 'drizzle-orm';
import PgBoss from 'pg-boss';
import {
  collectionTransaction,
  database,
  exclusively,
  type Database,
  type OpenDatabase,
  type Queryable,
} from '../db/database';
import { log, messageOf } from '../log';
import { JOB_KINDS, type JobKind, type Payload } from './kinds';
import { noteWaiting } from './progress';

/** A job that was fetched and is not completed yet. */
export interface FetchedJob<K extends JobKind = JobKind> {
  id: string;
  kind: K;
  payload: Payload[K];
}

export interface EnqueueOptions {
  /** What tells jobs of one kind apart: of those that wait with the same key, one is enough. The collection by default. */
  key?: string;
  /** The greater goes first; 0 by default. */
  priority?: number;
  /** Seconds before it may begin. */
  delaySeconds?: number;
  /** The transaction that it belongs to ({@link transactionWithJobs}): it is enqueued when that commits, or not at all. */
  tx?: Queryable;
}

/** Attempts after which a job that fails is given up. */
const RETRIES = 2;
const RETRY_SECONDS = 5;
const SCHEMA = 'pgboss';

interface Open {
  db: Database;
  boss: PgBoss;
}
/** One for the process, across the bundles that Next makes of the server; all that it knows is in the database. */
const shared = globalThis as typeof globalThis & { dettoQueue?: Promise<Open> | null; dettoWake?: () => void };

async function open(): Promise<Open> {
  const db = await database();
  return { db, boss: await makeQueue({ db, exclusively }) };
}

/** Makes the queue's tables in a database where they are missing. */
export async function makeQueue({ db, exclusively }: Pick<OpenDatabase, 'db' | 'exclusively'>): Promise<PgBoss> {
  const boss = new PgBoss({ db: executor(db), schema: SCHEMA, supervise: false, schedule: false });
  boss.on('error', (error) => log.error({ message: messageOf(error) }, 'the job queue failed'));
  await exclusively('queue', async () => {
    await boss.start();
    const known = new Set((await boss.getQueues()).map((q) => q.name));
    for (const name of JOB_KINDS) if (!known.has(name)) await boss.createQueue(name, { name, policy: 'short' });
  });
  return boss;
}

async function queue(): Promise<PgBoss> {
  shared.dettoQueue ??= open();
  try {
    const { db, boss } = await shared.dettoQueue;
    // The database may have been closed and opened since.
    if (db === (await database())) return boss;
  } catch (error) {
    shared.dettoQueue = null;
    throw error;
  }
  shared.dettoQueue = null;
  return queue();
}

/** Opens the queue, which makes its tables where they are missing. */
export async function openQueue(): Promise<void> {
  await queue();
}

/**
 * Puts a job into the queue. Where one of its kind and key waits already, that one is enough; one that runs may have
 * missed what the new one is for, so the new one waits for its end.
 */
export async function enqueue<K extends JobKind>(
  kind: K,
  payload: Payload[K],
  { key = payload.collectionId, priority = 0, delaySeconds = 0, tx }: EnqueueOptions = {},
): Promise<void> {
  const boss = await queue();
  await boss.send(kind, payload, {
    singletonKey: key,
    priority,
    retryLimit: RETRIES,
    retryDelay: RETRY_SECONDS,
    // Nothing here ends a job by the clock; its worker does, or the next start takes it up.
    expireInHours: 23,
    ...(delaySeconds > 0 ? { startAfter: delaySeconds } : {}),
    ...(tx ? { db: executor(tx) } : {}),
  });
  await noteWaiting(tx ?? (await database()), kind, payload.collectionId);
  shared.dettoWake?.();
}

/**
 * A transaction on a collection ({@link collectionTransaction}) that may enqueue jobs. The queue is opened before it begins,
 * because the embedded database serves one transaction at a time and would wait for itself.
 */
export async function transactionWithJobs<T>(collectionId: string, work: (tx: Queryable) => Promise<T>): Promise<T> {
  await queue();
  return collectionTransaction(collectionId, work);
}

/** Has a collection checked again with some rules, in the transaction that changed what they depend on. */
export const enqueueRecheck = (collectionId: string, rules: readonly string[], tx?: Queryable): Promise<void> =>
  enqueue(
    'recheck',
    { collectionId, rules },
    { key: `${collectionId} ${[...rules].sort().join(' ')}`, ...(tx ? { tx } : {}) },
  );

/** Seconds after a change of words before phrases are counted: what is changed meanwhile is counted with it. */
const QUIET_SECONDS = 3;

/** Has the phrases counted that open or close too many texts, once editing has paused. */
export const enqueuePhrases = (collectionId: string, tx: Queryable): Promise<void> =>
  enqueue('phrases', { collectionId }, { delaySeconds: QUIET_SECONDS, tx });

/** Calls back when this process has put something into the queue, so that its worker need not wait for its next look. */
export function onEnqueued(wake: () => void): void {
  shared.dettoWake = wake;
}

/** The kinds of which a job may begin now. */
export async function waitingKinds(): Promise<JobKind[]> {
  await queue();
  const rows = await rowsOf<{ name: JobKind }>(
    await database(),
    sql`select distinct name from pgboss.job where state < 'active' and start_after <= now()`,
  );
  return rows.map((r) => r.name);
}

/** Takes jobs of a kind out of the queue; until they are completed, the next start takes them up again. */
export async function fetchJobs<K extends JobKind>(kind: K, most: number): Promise<FetchedJob<K>[]> {
  const jobs = await (await queue()).fetch<Payload[K]>(kind, { batchSize: most });
  return (jobs ?? []).map(({ id, data }) => ({ id, kind, payload: data }));
}

/** Completed jobs leave no row: what they did stands in our own tables. */
export async function completeJobs(kind: JobKind, ids: readonly string[]): Promise<void> {
  await (await queue()).deleteJob(kind, [...ids]);
}

/** @returns whether it will be tried again */
export async function failJobs(kind: JobKind, ids: readonly string[], error: unknown): Promise<boolean> {
  const boss = await queue();
  log.warn({ kind, message: messageOf(error) }, 'a job is tried again, or given up after some attempts');
  await boss.fail(kind, [...ids]);
  const job = await boss.getJobById(kind, ids[0]!);
  return job?.state === 'retry';
}

/**
 * Puts active jobs back that a stop broke off, or that were running when their process ended.
 *
 * @param mine which, of the rows of `pgboss.job a`
 */
export async function requeue(mine: SQL): Promise<void> {
  await queue();
  const db = await database();
  // Of the same key, one that waits is enough.
  await db.execute(sql`delete from pgboss.job a where a.state = 'active' and ${mine} and exists (
    select from pgboss.job b where b.name = a.name and b.singleton_key = a.singleton_key and b.id <> a.id
      and (b.state = 'created' or (b.state = 'active' and (b.created_on, b.id) > (a.created_on, a.id))))`);
  await db.execute(
    sql`update pgboss.job a set state = 'created', started_on = null where a.state = 'active' and ${mine}`,
  );
}

/** Whether a job of a kind waits or runs for a collection. */
export async function isEnqueued(kind: JobKind, collectionId: string): Promise<boolean> {
  await queue();
  const rows = await rowsOf(
    await database(),
    sql`select 1 from pgboss.job where name = ${kind} and state <= 'active' and data->>'collectionId' = ${collectionId} limit 1`,
  );
  return rows.length > 0;
}

async function rowsOf<Row>(db: Queryable, query: SQL): Promise<Row[]> {
  return ((await db.execute(query)) as unknown as { rows: Row[] }).rows;
}

interface Answer {
  rows?: unknown[];
  rowCount?: number | null;
  affectedRows?: number;
}

/** What the drivers under Drizzle have in common; `exec` is the embedded database's. */
interface Client {
  query(text: string, values?: unknown[]): Promise<Answer | Answer[]>;
  exec?(text: string): Promise<Answer[]>;
}

/**
 * What pg-boss runs its statements with: the driver's own connection, because Drizzle numbers parameters again, and a
 * statement that names one twice would have two of them. Those without values may be several in one text, in a
 * transaction of their own: the embedded database takes them by `exec`, and one that fails is rolled back before its
 * error is thrown; a server's driver closes the connection on which it failed.
 */
function executor(db: Queryable) {
  const { client } = (db as unknown as { session: { client: Client } }).session;
  return {
    async executeSql(text: string, values: unknown[] = []): Promise<{ rows: unknown[]; rowCount: number }> {
      const { rows = [], rowCount, affectedRows } = await lastAnswer(client, text, values);
      return { rows, rowCount: rowCount ?? affectedRows ?? rows.length };
    },
  };
}

async function lastAnswer(client: Client, text: string, values: unknown[]): Promise<Answer> {
  if (values.length > 0 || !client.exec) {
    const answer = values.length > 0 ? await client.query(text, values) : await client.query(text);
    return Array.isArray(answer) ? (answer.at(-1) ?? {}) : answer;
  }
  try {
    return { rows: (await client.exec(text)).at(-1)?.rows ?? [] };
  } catch (error) {
    if (/\bBEGIN\b/i.test(text)) await client.exec('rollback');
    throw error;
  }
}
