import path from 'node:path';
import { sql } from 'drizzle-orm';
import type { PgliteDatabase } from 'drizzle-orm/pglite';
import { config } from '../config';
import type { DatabasePort } from '../ports/database';
import type * as schema from './schema';

/** The tables, asked through Drizzle; both adapters speak PostgreSQL. */
export type Database = PgliteDatabase<typeof schema>;
export type OpenDatabase = DatabasePort<Database>;
/** The database or a transaction on it. */
export type Queryable = Pick<
  Database,
  'select' | 'selectDistinct' | 'selectDistinctOn' | 'insert' | 'update' | 'delete' | 'execute' | 'query'
>;

/** One for the process, across the bundles that Next makes of the server. */
const shared = globalThis as typeof globalThis & { dettoDatabase?: Promise<OpenDatabase> };

async function open(): Promise<OpenDatabase> {
  const { databaseUrl, dataDir } = config();
  if (databaseUrl) return (await import('./server-database')).openServerDatabase(databaseUrl, dataDir);
  return (await import('./embedded-database')).openEmbeddedDatabase(path.join(dataDir, 'database'));
}

async function port(): Promise<OpenDatabase> {
  const opening = (shared.dettoDatabase ??= open());
  try {
    return await opening;
  } catch (error) {
    if (shared.dettoDatabase === opening) delete shared.dettoDatabase;
    throw error;
  }
}

/**
 * The database that the settings name: the embedded one in the data folder, or a server.
 *
 * @throws DataFolderError in one sentence when it cannot be opened
 */
export const database = async (): Promise<Database> => (await port()).db;

/** Whether other processes may have it open too. */
export const isDatabaseShared = async (): Promise<boolean> => (await port()).isShared;

/**
 * A transaction that reads and changes what belongs to a collection: of one collection, one comes after the other, so that
 * what it has read holds until it is committed. The embedded database takes all transactions in turn. On a server, whose
 * isolation level `read committed` shows what others commit in between, each locks the collection's row first, in the way
 * that lets others add rows which refer to it (`for no key update`).
 */
export async function collectionTransaction<T>(collectionId: string, work: (tx: Queryable) => Promise<T>): Promise<T> {
  const { db, isShared } = await port();
  return db.transaction(async (tx) => {
    if (isShared) await tx.execute(sql`select from collection where id = ${collectionId} for no key update`);
    return work(tx);
  });
}

/** Does something of which only one may be under way among all processes ({@link DatabasePort}). */
export const exclusively = async <T>(name: string, work: () => Promise<T>): Promise<T> =>
  (await port()).exclusively(name, work);

export async function closeDatabase(): Promise<void> {
  const open = shared.dettoDatabase;
  delete shared.dettoDatabase;
  await (await open)?.close();
}
