import { existsSync, mkdirSync } from 'node:fs';
import path from 'node:path';
import type { PGlite } from '@electric-sql/pglite';
import type { PgliteDatabase } from 'drizzle-orm/pglite';
import { config } from '../config';
import { lockFolder } from './lock';
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

const TEMPLATE = path.join(process.cwd(), 'dist', 'database-template.tar.gz');

/** @throws Error when another process has the folder */
export async function openDatabase(folder: string): Promise<Open> {
  mkdirSync(path.dirname(folder), { recursive: true });
  const unlock = lockFolder(folder);
  try {
    // The thread opens the database while the rest is loaded here.
    const [client, { drizzle }, { migrate }, schema] = await Promise.all([
      openDatabaseWorker({ dataDir: folder, template: existsSync(TEMPLATE) ? TEMPLATE : null }),
      import('drizzle-orm/pglite'),
      import('drizzle-orm/pglite/migrator'),
      import('./schema'),
    ]);
    const db = drizzle(client as unknown as PGlite, { schema, casing: 'snake_case' });
    await migrate(db, { migrationsFolder: path.join(process.cwd(), 'drizzle') });
    return {
      db,
      close: async () => {
        await client.close();
        unlock();
      },
    };
  } catch (error) {
    unlock();
    throw error;
  }
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
