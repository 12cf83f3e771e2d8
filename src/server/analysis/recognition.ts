import { and, asc, desc, eq, inArray, sql, type SQL } from 'drizzle-orm';
import { textOf, textShareOf, type Recognition } from '@/core/picture/recognised';
import type { Kind } from '@/core/model/picture-analysis';
import { readFile } from '../blobs/blobs';
import { storable } from '../db/bulk';
import { database, type Queryable } from '../db/database';
import { page, picture } from '../db/schema';
import { log, messageOf } from '../log';
import { analysable } from './analysable';
import { sharedRecogniser, type Recogniser } from '../workers/reader-pool';
import { readingLanguages } from './recognition-languages';

/** Rises when what is read changes, so that everything is read again. */
export const RECOGNITION_VERSION = 1;
/** Few, because each takes a second or more: what is done is kept soon. */
const BATCH = 8;
/** Pixels of a side below which no letter can be read. */
const LEAST_SIDE = 12;

/** Pictures in which there may be something to read. */
export const recognisable: SQL = sql`(${picture.analysisVersion} > 0 and ${picture.broken} is null and ${picture.kind} is not null
  and ${picture.kind} <> 'separator' and least(${picture.width}, ${picture.height}) >= ${LEAST_SIDE})`;

/**
 * Reads the text of each picture, and in photos what things there are. Most used first; what was read of the same picture
 * in another collection is not read again.
 *
 * @param found called before the first of what was read is kept
 * @returns how many were read
 */
export async function recognisePictures(
  collectionId: string,
  signal: AbortSignal,
  found: () => Promise<unknown> = async () => undefined,
): Promise<number> {
  const db = await database();
  const languages = await languagesOf(db, collectionId);
  const recogniser = sharedRecogniser();
  const release = recogniser.use();
  let done = 0;
  try {
    while (!signal.aborted) {
      const rows = await db
        .select({
          id: picture.id,
          sha256: picture.sha256,
          kind: picture.kind,
          recognitionVersion: picture.recognitionVersion,
        })
        .from(picture)
        .where(
          and(analysable(collectionId), recognisable, sql`${picture.recognitionVersion} <> ${RECOGNITION_VERSION}`),
        )
        // What failed once comes last, and is tried once more.
        .orderBy(sql`${picture.recognitionVersion} = ${-RECOGNITION_VERSION}`, desc(picture.reach), asc(picture.id))
        .limit(BATCH);
      if (rows.length === 0) break;
      const known = await knownRecognitions(
        db,
        rows.flatMap((r) => r.sha256 ?? []),
        languages,
      );
      const read = [];
      for (const row of rows) {
        if (signal.aborted) break;
        read.push(await recogniseOne(recogniser, row, languages, known));
      }
      if (done === 0) await found();
      await db.execute(sql`update ${picture} set recognition_version = r."recognitionVersion", recognition = r.recognition, recognised_text = r.text,
        text_share = r.share
        from json_to_recordset(${storable(read)}::json) as r(id int, "recognitionVersion" int, recognition json, text text, share real)
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
async function knownRecognitions(
  db: Queryable,
  sha256s: string[],
  languages: string[],
): Promise<Map<string, Recognition>> {
  if (sha256s.length === 0) return new Map();
  const rows = await db
    .selectDistinctOn([picture.sha256], { sha256: picture.sha256, recognition: picture.recognition })
    .from(picture)
    .where(
      and(
        inArray(picture.sha256, sha256s),
        eq(picture.recognitionVersion, RECOGNITION_VERSION),
        sql`${picture.recognition}->>'languages' = ${JSON.stringify(languages)}`,
      ),
    );
  return new Map(rows.map((r) => [r.sha256!, r.recognition!]));
}

async function recogniseOne(
  recogniser: Recogniser,
  {
    id,
    sha256,
    kind,
    recognitionVersion,
  }: { id: number; sha256: string | null; kind: Kind | null; recognitionVersion: number },
  languages: string[],
  known: ReadonlyMap<string, Recognition>,
) {
  const photo = kind === 'photo';
  const nothing: Recognition = { languages, lines: [], things: [], faces: null };
  let recognition = known.get(sha256!) ?? nothing;
  let version = RECOGNITION_VERSION;
  if (recognition === nothing)
    try {
      recognition = await recogniser.recognise({ bytes: await readFile(sha256!), languages, photo, things: photo });
    } catch (error) {
      log.warn({ picture: id, message: messageOf(error) }, 'a picture could not be read');
      if (recognitionVersion !== -RECOGNITION_VERSION) version = -RECOGNITION_VERSION;
    }
  return {
    id,
    recognitionVersion: version,
    recognition,
    text: textOf(recognition.lines, photo),
    share: textShareOf(recognition.lines, photo),
  };
}
