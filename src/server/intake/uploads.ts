import { UserError } from '@/core/model/user-error';
import { randomUUID } from 'node:crypto';
import { createWriteStream, promises as fs } from 'node:fs';
import path from 'node:path';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream } from 'node:stream/web';
import { formatOfName } from '@/core/formats';
import { config } from '../config';
import { database, isDatabaseShared } from '../db/database';
import { collection } from '../db/schema';
import { arrivals } from '../http/bodies';
import { isSafePath } from '../survey/file-source';
import { LIMITS, megabytes } from '../survey/source';
import { ZipTree } from '../survey/zip-tree';
import { insertCollection, type Collection } from '../catalogue/collections';

const UUID = /^[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;
const WHOLE_SITE = { maxPages: 100_000, maxDepth: 0 };

const dropped = () => path.join(config().dataDir, 'dropped');

/** A body to a file, cut off at a limit. */
async function keepBody(body: ReadableStream | null, file: string, limit: number, what: string): Promise<void> {
  if (!body) throw new UserError(`The ${what} is empty.`);
  let size = 0;
  const counted = new Transform({
    transform(part: Buffer, _, done) {
      size += part.length;
      if (size > limit) done(new UserError(`The ${what} is over the limit of ${megabytes(limit)}.`));
      else done(null, part);
    },
  });
  try {
    await pipeline(Readable.fromWeb(body), counted, createWriteStream(file));
  } catch (error) {
    await fs.rm(file, { force: true });
    throw error;
  }
}

/** Begins an upload of single files; gives back the name under which they are sent. */
export async function beginUpload(): Promise<string> {
  const id = randomUUID();
  await fs.mkdir(path.join(dropped(), id), { recursive: true });
  return id;
}

function folderOf(upload: string): string {
  if (!UUID.test(upload)) throw new UserError('There is no such upload.');
  return path.join(dropped(), upload);
}

/**
 * Keeps one file of an upload.
 *
 * @param file path below the folder that was dropped, with forward slashes
 * @throws Error in words when the path or the size is refused
 */
export async function uploadFile(upload: string, file: string, body: ReadableStream | null): Promise<void> {
  if (!isSafePath(file)) throw new UserError(`“${file}” leads out of the folder.`);
  const folder = folderOf(upload);
  await fs.access(folder).catch(() => {
    throw new UserError('There is no such upload.');
  });
  const target = path.join(folder, file);
  await fs.mkdir(path.dirname(target), { recursive: true });
  const isDocument = !['html', null].includes(formatOfName(file));
  await keepBody(body, target, isDocument ? LIMITS.document : LIMITS.picture, 'file');
}

/** Milliseconds after which an upload that nobody has finished is given up. */
const ABANDONED = 86_400_000;
/** Milliseconds without another byte after which what was arriving does not arrive any more. */
const STALE_MS = 600_000;

/**
 * Removes what earlier processes have left: bodies that were read, and uploads that no collection was made of within a day.
 *
 * @param now milliseconds
 */
export async function removeLeftovers(now: number): Promise<void> {
  // Where others share the folder, one of them may be receiving something now.
  const stale = (await isDatabaseShared()) ? STALE_MS : -1;
  for (const name of await fs.readdir(arrivals()).catch(() => [])) {
    const file = path.join(arrivals(), name);
    const stat = await fs.stat(file).catch(() => null);
    if (stat && now - stat.mtimeMs > stale) await fs.rm(file, { recursive: true, force: true });
  }
  const db = await database();
  const roots = new Set((await db.select({ root: collection.root }).from(collection)).map((c) => c.root));
  for (const name of await fs.readdir(dropped()).catch(() => [])) {
    const place = path.join(dropped(), name);
    const { mtimeMs } = await fs.stat(place);
    if (!roots.has(place) && now - mtimeMs > ABANDONED) await fs.rm(place, { recursive: true, force: true });
  }
}

/** Makes a collection of what was uploaded. */
export async function finishUpload(upload: string, name: string): Promise<Collection> {
  const root = folderOf(upload);
  if ((await fs.readdir(root)).length === 0) {
    await fs.rm(root, { recursive: true });
    throw new UserError('Nothing was uploaded.');
  }
  return insertCollection({ name, kind: 'upload', root, ...WHOLE_SITE });
}

/**
 * Makes a collection of a ZIP.
 *
 * @throws Error in words when it is no ZIP, or one that Detto does not open
 */
export async function uploadZip(name: string, body: ReadableStream | null): Promise<Collection> {
  await fs.mkdir(dropped(), { recursive: true });
  const root = path.join(dropped(), `${randomUUID()}.zip`);
  await keepBody(body, root, LIMITS.zip, 'ZIP');
  try {
    await (await ZipTree.open(root)).close();
  } catch (error) {
    await fs.rm(root, { force: true });
    throw error;
  }
  return insertCollection({ name, kind: 'zip', root, ...WHOLE_SITE });
}
