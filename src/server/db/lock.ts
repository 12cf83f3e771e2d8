import { randomUUID } from 'node:crypto';
import { closeSync, mkdirSync, openSync, promises as fs, renameSync, rmSync } from 'node:fs';
import net from 'node:net';
import path from 'node:path';
import { DataFolderError } from './data-folder';

/** Milliseconds for which another process may take to say who it is; its kernel answers for it whether it does or not. */
const PATIENCE = 500;
/** Bytes that the path of a socket may have (`sun_path` in unix(7), less a margin). */
const LONGEST_PATH = 90;
/** Two processes that start at the same moment see each other; the first to try again has it. */
const TRIES = 3;

/**
 * Takes a folder for this process; the embedded database has no lock of its own, and two processes on one folder lose
 * rows silently. The lock is a socket in the folder `<folder>.lock` that this process listens on: the system closes it
 * with the process, however that ends, and a process in another container that shares the folder can ask it as well.
 *
 * @returns what releases it
 * @throws DataFolderError that names the process that has it, or says that the folder cannot be locked
 */
export async function lockFolder(folder: string): Promise<() => void> {
  const locks = `${folder.replace(/\/+$/, '')}.lock`;
  await makeFolder(locks);
  for (let attempt = 1; ; attempt++) {
    const mine = await announce(locks).catch((error: NodeJS.ErrnoException) => {
      throw new DataFolderError(
        'unusable',
        `Detto cannot lock its data in ${folder}: the file system there takes no sockets (${error.code ?? error.message}). Set DETTO_DATA to a folder on a local disk.`,
        { cause: error },
      );
    });
    const other = await ownerBeside(locks, mine.name);
    if (other === null) return mine.release;
    mine.release();
    if (attempt === TRIES)
      throw new DataFolderError(
        'in-use',
        `Detto’s data in ${folder} is in use by ${other}. Stop that one first, or set DETTO_DATA to another folder.`,
      );
    await new Promise((resolve) => setTimeout(resolve, 50 + Math.random() * 200));
  }
}

/** A file of that name is what an older Detto, or nobody, left there. */
async function makeFolder(locks: string): Promise<void> {
  mkdirSync(path.dirname(locks), { recursive: true, mode: 0o700 });
  const known = await fs.lstat(locks).catch(() => null);
  if (known && !known.isDirectory()) rmSync(locks);
  mkdirSync(locks, { recursive: true, mode: 0o700 });
}

/** Listens under a name of its own. It gets the name that others look for once it answers, so none is taken for dead. */
async function announce(locks: string): Promise<{ name: string; release(): void }> {
  const name = `${randomUUID()}.socket`;
  const server = net.createServer((socket) => socket.on('error', () => undefined).end(String(process.pid)));
  const starting = path.join(locks, `starting-${name}`);
  await within(
    locks,
    starting,
    (at) =>
      new Promise<void>((resolve, reject) => {
        server.once('error', reject);
        server.listen(at, resolve);
      }),
  );
  server.unref();
  renameSync(starting, path.join(locks, name));
  return {
    name,
    release: () => {
      rmSync(path.join(locks, name), { force: true });
      server.close();
    },
  };
}

/** Who else listens in a folder; null when nobody does. What nobody listens on any more is removed: names are used once. */
async function ownerBeside(locks: string, mine: string): Promise<string | null> {
  const others = (await fs.readdir(locks)).filter((name) => name !== mine && !name.startsWith('starting-'));
  for (const name of others) {
    const at = path.join(locks, name);
    const owner = await ask(locks, at);
    if (owner !== null) return owner;
    rmSync(at, { force: true, recursive: true });
  }
  return null;
}

function ask(locks: string, at: string): Promise<string | null> {
  return within(
    locks,
    at,
    (address) =>
      new Promise((resolve) => {
        const socket = net.connect(address);
        let said = '';
        const done = (owner: string | null) => {
          clearTimeout(timer);
          socket.destroy();
          resolve(owner);
        };
        const timer = setTimeout(() => done('another process'), PATIENCE);
        socket.on('data', (part: Buffer) => (said += part.toString('latin1')));
        socket.on('end', () => done(/^\d+$/.test(said) ? `process ${said}` : 'another process'));
        // Refused: nobody listens. No socket at all: somebody's leftover.
        socket.on('error', () => done(null));
      }),
  );
}

/** A path of a socket that the system takes, whatever the length of the folder's own. */
async function within<T>(locks: string, at: string, work: (address: string) => Promise<T>): Promise<T> {
  if (Buffer.byteLength(at) <= LONGEST_PATH || process.platform !== 'linux') return work(at);
  const handle = openSync(locks, 'r');
  try {
    return await work(path.join('/proc/self/fd', String(handle), path.basename(at)));
  } finally {
    closeSync(handle);
  }
}
