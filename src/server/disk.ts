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

/** Whether the database cannot go on writing. */
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
