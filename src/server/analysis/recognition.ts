import { and, asc, desc, eq, inArray, sql, type SQL } from 'drizzle-orm';
import { textOf, textShareOf, type Inside } from '@/core/picture/recognised';
import type { Kind } from '@/core/model/picture-analysis';
import { readFile } from '../blobs/blobs';
import { storable } from '../db/bulk';
import { database, type Queryable } from '../db/database';
import { page, picture } from '../db/schema';
import { log, messageOf } from '../log';
import { lookable } from './analysable';
import { sharedPeruser, type Peruser } from '../workers/reader-pool';
import { readingLanguages } from './recognition-languages';

/** Rises when what is read changes, so that everything is read anew. */
export const PERUSAL = 1;
/** Few, because each takes a second or more: what is done is kept soon. */
const BATCH = 8;
/** Pixels of a side below which no letter can be read. */
const LEAST_SIDE = 12;

/** Pictures in which there may be something to read. */
export const perusable: SQL = sql`(${picture.looked} > 0 and ${picture.broken} is null and ${picture.kind} is not null
  and ${picture.kind} <> 'separator' and least(${picture.width}, ${picture.height}) >= ${LEAST_SIDE})`;

/**
 * Reads the text of each picture, and in photos what things there are. Most used first; what was read of the same picture
 * in another collection is not read again.
 *
 * @param found called before the first of what was read is kept
 * @returns how many were read
 */
export async function perusePictures(
  collectionId: string,
  signal: AbortSignal,
  found: () => Promise<unknown> = async () => undefined,
): Promise<number> {
  const db = await database();
  const languages = await languagesOf(db, collectionId);
  const peruser = sharedPeruser();
  const release = peruser.use();
  let done = 0;
  try {
    while (!signal.aborted) {
      const rows = await db
        .select({ id: picture.id, sha256: picture.sha256, kind: picture.kind, perused: picture.perused })
        .from(picture)
        .where(and(lookable(collectionId), perusable, sql`${picture.perused} <> ${PERUSAL}`))
        // What failed once comes last, and is tried once more.
        .orderBy(sql`${picture.perused} = ${-PERUSAL}`, desc(picture.reach), asc(picture.id))
        .limit(BATCH);
      if (rows.length === 0) break;
      const known = await knownInsides(
        db,
        rows.flatMap((r) => r.sha256 ?? []),
        languages,
      );
      const read = [];
      for (const row of rows) {
        if (signal.aborted) break;
        read.push(await peruseOne(peruser, row, languages, known));
      }
      if (done === 0) await found();
      await db.execute(sql`update ${picture} set perused = r.perused, inside = r.inside, text_inside = r.text,
        text_share = r.share
        from json_to_recordset(${storable(read)}::json) as r(id int, perused int, inside json, text text, share real)
        where picture.id = r.id`);
      done += read.length;
    }
  } finally {
    release();
  }
  return done;
}

async function languagesOf(db: Queryable, collectionId: string): Promise<string[]> {
  const rows = await db.select({ lang: page.lang }).from(page).where(eq(page.collectionId, collectionId));
  return readingLanguages(rows.map((r) => r.lang));
}

/** What was read of the same bytes, in the same languages. */
async function knownInsides(db: Queryable, sha256s: string[], languages: string[]): Promise<Map<string, Inside>> {
  if (sha256s.length === 0) return new Map();
  const rows = await db
    .selectDistinctOn([picture.sha256], { sha256: picture.sha256, inside: picture.inside })
    .from(picture)
    .where(
      and(
        inArray(picture.sha256, sha256s),
        eq(picture.perused, PERUSAL),
        sql`${picture.inside}->>'languages' = ${JSON.stringify(languages)}`,
      ),
    );
  return new Map(rows.map((r) => [r.sha256!, r.inside!]));
}

async function peruseOne(
  peruser: Peruser,
  { id, sha256, kind, perused }: { id: number; sha256: string | null; kind: Kind | null; perused: number },
  languages: string[],
  known: ReadonlyMap<string, Inside>,
) {
  const photo = kind === 'photo';
  const nothing: Inside = { languages, lines: [], things: [], faces: null };
  let inside = known.get(sha256!) ?? nothing;
  let version = PERUSAL;
  if (inside === nothing)
    try {
      inside = await peruser.peruse({ bytes: await readFile(sha256!), languages, photo, things: photo });
    } catch (error) {
      log.warn({ picture: id, message: messageOf(error) }, 'a picture could not be read');
      if (perused !== -PERUSAL) version = -PERUSAL;
    }
  return { id, perused: version, inside, text: textOf(inside.lines, photo), share: textShareOf(inside.lines, photo) };
}
