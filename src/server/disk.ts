import { promises as fs } from 'node:fs';
import path from 'node:path';

/** The disk that holds the data folder has no room left, or less than is kept in reserve. */
export class DiskFullError extends Error {
  readonly code = 'disk-full';

  /** @param free and @param reserve bytes, where they were measured */
  constructor(
    message: string,
    readonly free = 0,
    readonly reserve = 0,
  ) {
    super(message);
  }
}

/** The data folder cannot be written, whatever room there is: by its owner, its permissions, or a disk that is read-only. */
export class ReadOnlyError extends Error {
  readonly code = 'read-only';
}

/** Bytes below which a disk counts as full: PostgreSQL's log grows by 16 MB at a time. */
const SPARE = 24 * 1024 * 1024;

/** Bytes that may still be written to the disk of a folder; of one that does not exist yet, to that of its parent. */
export async function freeBytes(folder: string): Promise<number> {
  for (let at = path.resolve(folder); ; at = path.dirname(at))
    try {
      const { bavail, bsize } = await fs.statfs(at);
      return bavail * bsize;
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'ENOENT' || at === path.dirname(at)) throw error;
    }
}

const DENIED: readonly unknown[] = ['EACCES', 'EPERM', 'EROFS'];

/** Why a database in a folder cannot go on writing; null where it can. */
export async function whyUnwritable(folder: string): Promise<DiskFullError | ReadOnlyError | null> {
  if (await isFull(folder))
    return new DiskFullError('The disk is full. Free some space; nothing that was saved is lost.');
  const denied = await fs.access(folder, fs.constants.W_OK).catch((error: NodeJS.ErrnoException) => error);
  return denied && DENIED.includes(denied.code)
    ? new ReadOnlyError('The data folder cannot be written. Nothing that was saved is lost.')
    : null;
}

/** Whether an error says that the data folder cannot be written: Detto's own, or the operating system's about a file in it. */
export function meansReadOnly(error: unknown, folder: string): boolean {
  for (let at = error; at instanceof Error; at = at.cause) {
    const { code, path: file } = at as NodeJS.ErrnoException;
    if (code === 'read-only' || (DENIED.includes(code) && file?.startsWith(path.resolve(folder)))) return true;
  }
  return false;
}

/** Whether the disk of a folder has no room left for a database. */
export const isFull = (folder: string): Promise<boolean> =>
  freeBytes(folder).then(
    (free) => free < SPARE,
    () => false,
  );

const megabytes = (bytes: number) => `${Math.max(0, Math.floor(bytes / 1_048_576)).toLocaleString('en-GB')} MB`;

/**
 * Makes sure that the disk of a folder takes some bytes more and that the reserve stays free, which is for the words of
 * editors.
 *
 * @throws DiskFullError in words
 */
export async function ensureRoom(folder: string, bytes: number, reserve: number): Promise<void> {
  const free = await freeBytes(folder);
  if (free - bytes >= reserve) return;
  throw new DiskFullError(
    `The disk is nearly full: ${megabytes(free)} are free, and ${megabytes(reserve)} are kept for the words of editors. Free some space, then resume the survey; what was read is saved.`,
    free,
    reserve,
  );
}

/** Whether an error says that the disk is full: the operating system's, PostgreSQL's (53100), or Detto's own. */
export function meansDiskFull(error: unknown): boolean {
  for (let at = error; at instanceof Error; at = at.cause) {
    const { code } = at as { code?: string };
    if (code === 'disk-full' || code === 'ENOSPC' || code === 'EDQUOT' || code === '53100') return true;
    if (/No space left on device/i.test(at.message)) return true;
  }
  return false;
}
