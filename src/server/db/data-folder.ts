import { existsSync, promises as fs, readdirSync, readFileSync, renameSync, rmdirSync, statSync } from 'node:fs';
import path from 'node:path';

/** The folder cannot be used; the message is one sentence for the person who starts Detto. Nothing in it was removed. */
export class DataFolderError extends Error {
  constructor(
    readonly code: 'unusable' | 'not-a-database' | 'other-version' | 'damaged' | 'in-use',
    message: string,
    options?: ErrorOptions,
  ) {
    super(message, options);
  }
}

/** Version of PostgreSQL in the embedded database, as its folder says it. */
const POSTGRESQL = '18';

/**
 * Makes the folder where it is missing, and makes sure that files can be kept in it.
 *
 * @throws DataFolderError when it cannot be made, read or written
 */
export async function checkDataFolder(folder: string): Promise<void> {
  const probe = path.join(folder, `.write-test-${process.pid}`);
  try {
    await fs.mkdir(folder, { recursive: true, mode: 0o700 });
    await fs.readdir(folder);
    await fs.writeFile(probe, '');
    await fs.unlink(probe);
  } catch (error) {
    const reason = REASONS[(error as NodeJS.ErrnoException).code ?? ''] ?? (error as Error).message;
    throw new DataFolderError('unusable', `Detto cannot use the data folder ${folder}: ${reason}.`, { cause: error });
  }
}

const REASONS: Record<string, string> = {
  EACCES: 'this user may not read and write it',
  EPERM: 'this user may not read and write it',
  EROFS: 'it is read-only',
  ENOTDIR: 'it is a file, not a folder',
  EEXIST: 'it is a file, not a folder',
  ENOSPC: 'the disk is full',
  EDQUOT: 'the disk is full',
};

/**
 * Looks at the folder of the embedded database before it is opened. What is no database is moved aside under a name with
 * the date, because a new one has to go there.
 *
 * @throws DataFolderError when there is something that this Detto cannot open
 */
export function checkDatabaseFolder(folder: string, now: Date): void {
  if (!existsSync(folder)) return;
  const version = path.join(folder, 'PG_VERSION');
  if (!existsSync(version)) {
    if (statSync(folder).isDirectory() && readdirSync(folder).length === 0) return rmdirSync(folder);
    const aside = `${folder}.set-aside-${now.toISOString().slice(0, 19).replaceAll(':', '-')}`;
    renameSync(folder, aside);
    throw new DataFolderError(
      'not-a-database',
      `${folder} is no database that Detto can read (PG_VERSION is missing); it was moved to ${aside}. Put the right folder back, or start again with an empty database.`,
    );
  }
  const found = readFileSync(version, 'utf8').trim();
  if (found !== POSTGRESQL)
    throw new DataFolderError(
      'other-version',
      `The database in ${folder} was made by PostgreSQL ${found.slice(0, 20)}, and this Detto opens ${POSTGRESQL}. Start the Detto that made it; nothing was changed.`,
    );
}

/** How many files and folders below a folder others than their owner may read or write. */
export async function openToOthers(folder: string): Promise<number> {
  let open = 0;
  const entries = await fs.readdir(folder, { withFileTypes: true, recursive: true });
  for (const at of [folder, ...entries.map((e) => path.join(e.parentPath, e.name))]) {
    const stat = await fs.lstat(at).catch(() => null);
    if (stat && !stat.isSymbolicLink() && (stat.mode & 0o077) !== 0) open++;
  }
  return open;
}

/** Takes reading and writing from everybody but the owner, in a folder and all that is below it. */
export async function closeToOthers(folder: string): Promise<void> {
  const entries = await fs.readdir(folder, { withFileTypes: true, recursive: true });
  const all = [folder, ...entries.map((e) => path.join(e.parentPath, e.name))];
  for (const at of all) {
    const stat = await fs.lstat(at).catch(() => null);
    if (!stat || (!stat.isFile() && !stat.isDirectory()) || (stat.mode & 0o077) === 0) continue;
    await fs.chmod(at, stat.isDirectory() ? 0o700 : 0o600).catch(() => undefined);
  }
}
