import { existsSync } from 'node:fs';
import path from 'node:path';
import type { PGlite } from '@electric-sql/pglite';
import { isFull, meansDiskFull } from '../disk';
import type { OpenDatabase } from './database';
import { checkDatabaseFolder, checkDataFolder, closeToOthers, DataFolderError } from './data-folder';
import { lockFolder } from './lock';
import { isNewer, MIGRATIONS } from './migrations';
import { meansAborted, openAgain } from './open-again';
import { openDatabaseWorker } from './pglite-proxy';

const TEMPLATE = path.join(process.cwd(), 'dist', 'database-template', 'database');

/**
 * Opens the embedded database of a data folder, made where there is none, and brings its tables up to date.
 *
 * @throws DataFolderError in one sentence when the folder cannot be used, holds something else, or is in use
 */
export async function openEmbeddedDatabase(folder: string): Promise<OpenDatabase> {
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
      if (await isNewer(db))
        throw new DataFolderError(
          'other-version',
          `The data in ${path.dirname(folder)} was kept by a newer Detto. Start that one; nothing was changed.`,
        );
      await migrate(db, { migrationsFolder: MIGRATIONS });
    } catch (error) {
      await client.close().catch(() => undefined);
      throw error;
    }
    // Folders of an older Detto are open to others; what is made from now on is not.
    closeToOthers(path.dirname(folder)).catch(() => undefined);
    return {
      db,
      isShared: false,
      // One process at a time has the folder, and does one thing after the other.
      exclusively: (_, work) => work(),
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
