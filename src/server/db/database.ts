import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import type { PGlite } from '@electric-sql/pglite';
import { sql } from 'drizzle-orm';
import type { PgliteDatabase } from 'drizzle-orm/pglite';
import { config } from '../config';
import { isFull, meansDiskFull } from '../disk';
import { checkDatabaseFolder, checkDataFolder, closeToOthers, DataFolderError } from './data-folder';
import { lockFolder } from './lock';
import { meansAborted, openAgain } from './open-again';
import { openDatabaseWorker } from './pglite-proxy';
import type * as schema from './schema';

export type Database = PgliteDatabase<typeof schema>;
/** The database or a transaction on it. */
export type Queryable = Pick<
  Database,
  'select' | 'selectDistinct' | 'selectDistinctOn' | 'insert' | 'update' | 'delete' | 'execute' | 'query'
>;

interface Open {
  db: Database;
  close(): Promise<void>;
}

const TEMPLATE = path.join(process.cwd(), 'dist', 'database-template', 'database');
const MIGRATIONS = path.join(process.cwd(), 'drizzle');

/**
 * Opens the embedded database of a data folder, made where there is none, and brings its tables up to date.
 *
 * @throws DataFolderError in one sentence when the folder cannot be used, holds something else, or is in use
 */
export async function openDatabase(folder: string): Promise<Open> {
  await checkDataFolder(path.dirname(folder));
  const unlock = await lockFolder(folder);
  try {
    checkDatabaseFolder(folder, new Date());
    // The thread opens the database while the rest is loaded here.
    const [client, { drizzle }, { migrate }, schema] = await Promise.all([
      openAgain(folder, () =>
        openDatabaseWorker({ dataDir: folder, template: existsSync(TEMPLATE) ? TEMPLATE : null }),
      ),
      import('drizzle-orm/pglite'),
      import('drizzle-orm/pglite/migrator'),
      import('./schema'),
    ]);
    const db = drizzle(client as unknown as PGlite, { schema, casing: 'snake_case' });
    try {
      await refuseNewer(db, folder);
      await migrate(db, { migrationsFolder: MIGRATIONS });
    } catch (error) {
      await client.close().catch(() => undefined);
      throw error;
    }
    // Folders of an older Detto are open to others; what is made from now on is not.
    closeToOthers(path.dirname(folder)).catch(() => undefined);
    return {
      db,
      close: async () => {
        await client.close();
        unlock();
      },
    };
  } catch (error) {
    unlock();
    throw await inOneSentence(error, folder);
  }
}

/** The tables of a newer Detto may hold what this one would lose. */
async function refuseNewer(db: Database, folder: string): Promise<void> {
  const journal = JSON.parse(readFileSync(path.join(MIGRATIONS, 'meta', '_journal.json'), 'utf8')) as {
    entries: { when: number }[];
  };
  const known = Math.max(...journal.entries.map((e) => e.when));
  const { rows: tables } = (await db.execute(
    sql`select to_regclass('drizzle.__drizzle_migrations')::text found`,
  )) as unknown as { rows: { found: string | null }[] };
  if (!tables[0]!.found) return;
  const { rows } = (await db.execute(
    sql`select max(created_at)::float8 latest from drizzle.__drizzle_migrations`,
  )) as unknown as { rows: { latest: number | null }[] };
  if ((rows[0]!.latest ?? 0) > known)
    throw new DataFolderError(
      'other-version',
      `The data in ${path.dirname(folder)} was kept by a newer Detto. Start that one; nothing was changed.`,
    );
}

async function inOneSentence(error: unknown, folder: string): Promise<Error> {
  if (error instanceof DataFolderError) return error;
  if (meansDiskFull(error) || (await isFull(folder)))
    return new DataFolderError(
      'unusable',
      `Detto cannot open its database in ${folder}: the disk is full. Free some space and start again.`,
      { cause: error },
    );
  const said = (error instanceof Error ? error.message : String(error)).split('\n')[0]!.replace(/[.\s]+$/, '');
  const reason = meansAborted(said) ? 'it is damaged' : said;
  return new DataFolderError(
    'damaged',
    `The database in ${folder} cannot be opened (${reason}); nothing in it was removed. Put back a copy of the folder, or move it away to start with an empty one.`,
    { cause: error },
  );
}

/** One for the process, across the bundles that Next makes of the server. */
const shared = globalThis as typeof globalThis & { dettoDatabase?: Promise<Open> };

export async function database(): Promise<Database> {
  shared.dettoDatabase ??= openDatabase(path.join(config().dataDir, 'database'));
  try {
    return (await shared.dettoDatabase).db;
  } catch (error) {
    delete shared.dettoDatabase;
    throw error;
  }
}

export async function closeDatabase(): Promise<void> {
  const open = shared.dettoDatabase;
  delete shared.dettoDatabase;
  await (await open)?.close();
}
