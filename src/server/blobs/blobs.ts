import { createHash } from 'node:crypto';
import { constants, promises as fs } from 'node:fs';
import path from 'node:path';
import { and, eq, inArray, sql } from 'drizzle-orm';
import { config } from '../config';
import { insertRows } from '../db/bulk';
import { database, isDatabaseShared, type Queryable } from '../db/database';
import { file, picture } from '../db/schema';
import { log } from '../log';

const DAMAGED = 'its stored copy was damaged and has been dropped; the next survey fetches it again';

/** The stored copy of a file is not what was stored. It was dropped, so that the next survey stores it again. */
export class DamagedFileError extends Error {
  readonly code = 'damaged-file';
  constructor(readonly sha256: string) {
    super(DAMAGED);
  }
}

/** Bytes after which a new pack is begun. */
const PACK_LIMIT = 256 * 1024 * 1024;

interface Pack {
  number: number;
  size: number;
  handle: fs.FileHandle;
}

/** The pack that is being filled; one for the process, across the bundles that Next makes of the server. */
const shared = globalThis as typeof globalThis & { dettoPack?: { open: Pack | null; writing: Promise<unknown> } };
const filling = (shared.dettoPack ??= { open: null, writing: Promise.resolve() });

export const packFolder = (): string => path.join(/* turbopackIgnore: true */ config().dataDir, 'files');
export const packFile = (number: number): string => path.join(packFolder(), `pack-${String(number).padStart(5, '0')}`);

export const sha256Of = (bytes: Buffer): string => createHash('sha256').update(bytes).digest('hex');

/** Bytes that are hashed before others get their turn: some 10 ms. */
const HASHED_AT_ONCE = 4 * 1024 * 1024;

/** The same of bytes that may be very many, without holding up everything else. */
export async function hashOf(bytes: Uint8Array): Promise<string> {
  const hash = createHash('sha256');
  for (let at = 0; at < bytes.byteLength; at += HASHED_AT_ONCE) {
    if (at > 0) await new Promise(setImmediate);
    hash.update(bytes.subarray(at, at + HASHED_AT_ONCE));
  }
  return hash.digest('hex');
}

/**
 * Keeps files under their SHA-256. They are appended to packs, many at a stroke, since a survey keeps thousands of
 * small ones; the database says where each is, so what a killed process appended and did not record, counts for nothing.
 */
export async function keepFiles(tx: Queryable, files: ReadonlyMap<string, Buffer>): Promise<void> {
  if (files.size === 0) return;
  const known = await tx
    .select({ sha256: file.sha256 })
    .from(file)
    .where(inArray(file.sha256, [...files.keys()]));
  const there = new Set(known.map((k) => k.sha256));
  const fresh = [...files].filter(([sha256]) => !there.has(sha256));
  if (fresh.length === 0) return;
  const work = filling.writing.then(() => append(fresh));
  filling.writing = work.catch(() => undefined);
  // Another process may have kept the same meanwhile; in one order, so that two never wait for each other.
  const rows = (await work).sort((a, b) => (a.sha256 < b.sha256 ? -1 : 1));
  await insertRows(tx, file, rows, sql`on conflict (sha256) do nothing`);
}

/** One file; gives back the SHA-256 under which it is kept. */
export async function keepFile(bytes: Buffer): Promise<string> {
  const sha256 = sha256Of(bytes);
  await keepFiles(await database(), new Map([[sha256, bytes]]));
  return sha256;
}

async function append(files: [sha256: string, bytes: Buffer][]): Promise<(typeof file.$inferInsert)[]> {
  const pack = await packToFill();
  let start = pack.size;
  const rows = files.map(([sha256, bytes]) => {
    const row = { sha256, pack: pack.number, start, length: bytes.length };
    start += bytes.length;
    return row;
  });
  try {
    await writeAt(pack.handle, Buffer.concat(files.map(([, bytes]) => bytes)), pack.size);
  } catch (error) {
    // What was half written counts for nothing, and the pack is measured again before it is used.
    filling.open = null;
    await pack.handle.truncate(pack.size).catch(() => undefined);
    await pack.handle.close().catch(() => undefined);
    throw error;
  }
  pack.size = start;
  return rows;
}

/** All of it at its own place, so that nothing depends on what stands behind the end that is known. */
async function writeAt(handle: fs.FileHandle, bytes: Buffer, position: number): Promise<void> {
  for (let done = 0; done < bytes.length;) {
    const { bytesWritten } = await handle.write(bytes, done, bytes.length - done, position + done);
    done += bytesWritten;
  }
}

async function packToFill(): Promise<Pack> {
  const { open } = filling;
  if (open && open.size < PACK_LIMIT) return open;
  await open?.handle.close();
  await fs.mkdir(packFolder(), { recursive: true, mode: 0o700 });
  const numbers = (await fs.readdir(packFolder())).map((name) => Number(/^pack-(\d+)$/.exec(name)?.[1] ?? 0));
  const last = Math.max(0, ...numbers);
  const isShared = await isDatabaseShared();
  filling.open = open || last === 0 || isShared ? await newPack(last + 1) : await lastPack(last);
  return filling.open;
}

async function lastPack(number: number): Promise<Pack> {
  const handle = await fs.open(packFile(number), constants.O_RDWR | constants.O_CREAT, 0o600);
  const { size } = await handle.stat();
  return { number, size, handle };
}

/** Each process fills packs of its own. @param number the first that may be free */
async function newPack(number: number): Promise<Pack> {
  for (; ; number++)
    try {
      const handle = await fs.open(packFile(number), constants.O_RDWR | constants.O_CREAT | constants.O_EXCL, 0o600);
      return { number, size: 0, handle };
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
    }
}

/**
 * A stored file, checked against its hash.
 *
 * @throws DamagedFileError when the stored bytes are others; the copy is dropped
 * @throws Error when there is no such file
 */
export async function readFile(sha256: string): Promise<Buffer> {
  const db = await database();
  const [at] = await db.select().from(file).where(eq(file.sha256, sha256));
  if (!at) throw new Error(`There is no file ${sha256}.`);
  const bytes = await readStored(at);
  if (bytes) return bytes;
  await dropFile(db, at);
  throw new DamagedFileError(sha256);
}

/** The bytes that a row speaks of; null when they are not there or are others. */
export async function readStored(at: typeof file.$inferSelect): Promise<Buffer | null> {
  const handle = await fs.open(packFile(at.pack), 'r').catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT') return null;
    throw error;
  });
  if (!handle) return null;
  try {
    const bytes = Buffer.allocUnsafe(at.length);
    const { bytesRead } = await handle.read(bytes, 0, at.length, at.start);
    return bytesRead === at.length && (await hashOf(bytes)) === at.sha256 ? bytes : null;
  } finally {
    await handle.close();
  }
}

/** Forgets a stored copy, so that the same file is stored again when it is met; a thumbnail is drawn again. */
export async function dropFile(db: Queryable, at: typeof file.$inferSelect): Promise<void> {
  log.warn({ sha256: at.sha256, pack: at.pack, start: at.start }, 'a stored file was damaged and is dropped');
  await db.delete(file).where(and(eq(file.sha256, at.sha256), eq(file.pack, at.pack), eq(file.start, at.start)));
  await db.update(picture).set({ thumb: null, analysisVersion: 0 }).where(eq(picture.thumb, at.sha256));
  await db
    .update(picture)
    .set({ unread: { id: 'broken.stored-damaged' } })
    .where(eq(picture.sha256, at.sha256));
}

/** Closes what is open, at the end of the process. */
export async function closeFiles(): Promise<void> {
  await filling.writing;
  await filling.open?.handle.close();
  filling.open = null;
}
