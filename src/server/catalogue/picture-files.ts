import { and, eq } from 'drizzle-orm';
import { fileNameOf } from '@/core/picture/file-name';
import { pictureType } from '@/core/picture/signatures';
import { readFile } from '../blobs/blobs';
import { sharedReaders } from '../workers/reader-pool';
import { database } from '../db/database';
import { picture } from '../db/schema';

/** Found content can be hostile: it may show, and do nothing else. */
const POLICY = "sandbox; default-src 'none'; style-src 'unsafe-inline'; img-src data:";

function asPicture(bytes: Buffer, type: string): Response {
  return new Response(new Uint8Array(bytes), {
    headers: {
      'content-type': type,
      'content-security-policy': POLICY,
      'x-content-type-options': 'nosniff',
      'cross-origin-resource-policy': 'same-origin',
      'cache-control': 'private, max-age=31536000, immutable',
    },
  });
}

const nothing = () => new Response('There is no such picture.', { status: 404 });

/** A picture as it was found. */
export async function foundPicture(collectionId: string, id: number): Promise<Response> {
  const db = await database();
  const [row] = await db
    .select({ sha256: picture.sha256, type: picture.type })
    .from(picture)
    .where(and(eq(picture.id, id), eq(picture.collectionId, collectionId)));
  if (!row?.sha256 || !row.type) return nothing();
  return readFile(row.sha256).then((bytes) => asPicture(bytes, row.type!), nothing);
}

/** A copy as WebP, to be taken in place of a heavy file. */
export async function lighterCopy(collectionId: string, id: number): Promise<Response> {
  const db = await database();
  const [row] = await db
    .select({ sha256: picture.sha256, lighter: picture.lighter, src: picture.src })
    .from(picture)
    .where(and(eq(picture.id, id), eq(picture.collectionId, collectionId)));
  if (!row?.sha256 || row.lighter === null) return nothing();
  try {
    const copy = await sharedReaders().lighter(await readFile(row.sha256));
    const name = (row.src?.split(/[?#]/)[0]!.split('/').pop() ?? 'picture').replace(/\.[a-z0-9]{2,5}$/i, '');
    const response = asPicture(copy, 'image/webp');
    response.headers.set('content-disposition', `attachment; filename*=UTF-8''${encodeURIComponent(name)}.webp`);
    return response;
  } catch (error) {
    return new Response(`The copy could not be made: ${(error as Error).message}.`, { status: 500 });
  }
}

/** The name of a picture's file; empty where it has none, null where there is no such picture. */
export async function pictureName(collectionId: string, id: number): Promise<string | null> {
  if (!Number.isSafeInteger(id)) return null;
  const db = await database();
  const [row] = await db
    .select({ src: picture.src })
    .from(picture)
    .where(and(eq(picture.id, id), eq(picture.collectionId, collectionId)));
  return row ? (row.src ? fileName(row.src) : '') : null;
}

/** What people call a file: the last part of its address or path. */
export const fileName = (src: string): string => fileNameOf(src) || src;

/** A thumbnail by the name of its stored file. */
export async function foundThumb(sha256: string): Promise<Response> {
  const db = await database();
  const [row] = await db.select({ id: picture.id }).from(picture).where(eq(picture.thumb, sha256)).limit(1);
  if (!row) return nothing();
  return readFile(sha256).then((bytes) => asPicture(bytes, pictureType(bytes) ?? 'image/webp'), nothing);
}
