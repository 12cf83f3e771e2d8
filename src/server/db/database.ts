import path from 'node:path';
import { config } from '../config';
import type { Database, DatabasePort } from '../ports/database';

export type { Database } from '../ports/database';
/** The database or a transaction on it. */
export type Queryable = Pick<
  Database,
  'select' | 'selectDistinct' | 'selectDistinctOn' | 'insert' | 'update' | 'delete' | 'execute' | 'query'
>;

/** One for the process, across the bundles that Next makes of the server. */
const shared = globalThis as typeof globalThis & { dettoDatabase?: Promise<DatabasePort> };

async function open(): Promise<DatabasePort> {
  const { databaseUrl, dataDir } = config();
  if (databaseUrl) return (await import('./server-database')).openServerDatabase(databaseUrl, dataDir);
  return (await import('./embedded-database')).openEmbeddedDatabase(path.join(dataDir, 'database'));
}

async function port(): Promise<DatabasePort> {
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

/** Does something of which only one may be under way among all processes ({@link DatabasePort}). */
export const exclusively = async <T>(name: string, work: () => Promise<T>): Promise<T> =>
  (await port()).exclusively(name, work);

export async function closeDatabase(): Promise<void> {
  const open = shared.dettoDatabase;
  delete shared.dettoDatabase;
  await (await open)?.close();
}
