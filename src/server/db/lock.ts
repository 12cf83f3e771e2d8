import { closeSync, linkSync, mkdirSync, openSync, readFileSync, unlinkSync, writeSync } from 'node:fs';
import path from 'node:path';
import { randomUUID } from 'node:crypto';

interface Owner {
  pid: number;
  /** Start time of the process, so that a pid used again is not taken for the owner; null where unknown. */
  start: string | null;
}

function startTime(pid: number): string | null {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
    return stat.slice(stat.lastIndexOf(')') + 2).split(' ')[19] ?? null;
  } catch {
    return null;
  }
}

function isAlive(owner: Owner): boolean {
  if (process.platform === 'linux') {
    const start = startTime(owner.pid);
    return start !== null && (owner.start === null || start === owner.start);
  }
  try {
    process.kill(owner.pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
}

/**
 * Takes a folder for this process; the embedded database has no lock of its own, and two processes on one
 * folder lose rows silently.
 *
 * @returns what gives it free again
 * @throws Error that names the process that has it
 */
export function lockFolder(folder: string): () => void {
  const file = `${folder.replace(/\/+$/, '')}.lock`;
  mkdirSync(path.dirname(file), { recursive: true });
  const me = JSON.stringify({ pid: process.pid, start: startTime(process.pid) } satisfies Owner);
  for (let attempt = 0; attempt < 3; attempt++) {
    const temporary = `${file}.${randomUUID()}`;
    const fd = openSync(temporary, 'wx');
    writeSync(fd, me);
    closeSync(fd);
    try {
      linkSync(temporary, file);
      return () => {
        if (readOwner(file) === me) unlinkSync(file);
      };
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
      const text = readOwner(file);
      const owner = text ? (JSON.parse(text) as Owner) : null;
      if (owner && isAlive(owner))
        throw new Error(
          `Detto’s data in ${folder} is in use by process ${owner.pid}. Stop that one first, or set DETTO_DATA to another folder.`,
        );
      unlinkSync(file);
    } finally {
      unlinkSync(temporary);
    }
  }
  throw new Error(`Detto’s data in ${folder} could not be locked.`);
}

function readOwner(file: string): string | null {
  try {
    return readFileSync(file, 'utf8');
  } catch {
    return null;
  }
}
