import { createHash } from 'node:crypto';
import { promises as fs } from 'node:fs';
import path from 'node:path';
import { eq, inArray } from 'drizzle-orm';
import { config } from '../config';
import { insertRows } from '../db/bulk';
import { database, type Queryable } from '../db/database';
import { file } from '../db/schema';

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

const folder = () => path.join(/* turbopackIgnore: true */ config().dataDir, 'files');
const packFile = (number: number) => path.join(folder(), `pack-${String(number).padStart(5, '0')}`);

export const sha256Of = (bytes: Buffer): string => createHash('sha256').update(bytes).digest('hex');

/**
 * Keeps files under their SHA-256. They are appended to packs, many at a stroke, since a survey keeps thousands of
 * small ones; the database says where each is, so what a killed process appended and did not tell, counts for nothing.
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
  await insertRows(tx, file, await work);
}

/** One file; gives back the SHA-256 under which it is kept. */
export async function keepFile(bytes: Buffer): Promise<string> {
  const sha256 = sha256Of(bytes);
  const db = await database();
  await db.transaction((tx) => keepFiles(tx, new Map([[sha256, bytes]])));
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
  await pack.handle.appendFile(Buffer.concat(files.map(([, bytes]) => bytes)));
  pack.size = start;
  return rows;
}

async function packToFill(): Promise<Pack> {
  const { open } = filling;
  if (open && open.size < PACK_LIMIT) return open;
  await open?.handle.close();
  await fs.mkdir(folder(), { recursive: true });
  const numbers = (await fs.readdir(folder())).map((name) => Number(/^pack-(\d+)$/.exec(name)?.[1] ?? 0));
  const last = Math.max(0, ...numbers);
  const number = open || last === 0 ? last + 1 : last;
  const handle = await fs.open(packFile(number), 'a');
  const { size } = await handle.stat();
  return (filling.open = { number, size, handle });
}

/** @throws Error when there is no such file */
export async function readFile(sha256: string): Promise<Buffer> {
  const db = await database();
  const [at] = await db.select().from(file).where(eq(file.sha256, sha256));
  if (!at) throw new Error(`There is no file ${sha256}.`);
  const handle = await fs.open(packFile(at.pack), 'r');
  try {
    const bytes = Buffer.alloc(at.length);
    const { bytesRead } = await handle.read(bytes, 0, at.length, at.start);
    if (bytesRead !== at.length) throw new Error(`The file ${sha256} is cut off.`);
    return bytes;
  } finally {
    await handle.close();
  }
}

/** Closes what is open, at the end of the process. */
export async function closeFiles(): Promise<void> {
  await filling.writing;
  await filling.open?.handle.close();
  filling.open = null;
}
