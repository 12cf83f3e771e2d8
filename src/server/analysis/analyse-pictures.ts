import { and, asc, desc, sql } from 'drizzle-orm';
import PQueue from 'p-queue';
import { plain } from '@/core/model/message';
import { DamagedFileError, keepFiles, readFile, sha256Of } from '../blobs/blobs';
import { config } from '../config';
import { storable } from '../db/bulk';
import { database, type Queryable } from '../db/database';
import { picture } from '../db/schema';
import { ensureRoom } from '../disk';
import { reasonOf } from '../log';
import { analysable } from './analysable';
import { sharedReaders } from '../workers/reader-pool';
import { analysisFrom } from './facts-for-rules';
import type { AnalysisResult } from '../workers/tasks';

/** Rises when what is looked for changes, so that everything is analysed again. */
export const ANALYSIS_VERSION = 6;
const BATCH = 40;
const CONCURRENCY = 2;

/**
 * Decodes each picture once: whether it decodes, thumbnail, colours, kind, likeness, metadata, weight of a copy. Most used
 * first.
 *
 * @param found called before the first of what was seen is kept
 * @returns how many were looked at
 */
export async function analysePictures(
  collectionId: string,
  signal: AbortSignal,
  found: () => Promise<unknown> = async () => undefined,
  progress: (share: number) => void = () => undefined,
): Promise<number> {
  const db = await database();
  const todo = and(analysable(collectionId), sql`${picture.analysisVersion} <> ${ANALYSIS_VERSION}`);
  const [{ all } = { all: 0 }] = await db
    .select({ all: sql`count(*)`.mapWith(Number) })
    .from(picture)
    .where(todo);
  const queue = new PQueue({ concurrency: CONCURRENCY });
  let done = 0;
  while (!signal.aborted) {
    const rows = await db
      .select({
        id: picture.id,
        sha256: picture.sha256,
        src: picture.src,
        type: picture.type,
        broken: picture.broken,
        analysisVersion: picture.analysisVersion,
      })
      .from(picture)
      .where(todo)
      // What failed once comes last, and is tried once more.
      .orderBy(sql`${picture.analysisVersion} = ${-ANALYSIS_VERSION}`, desc(picture.reach), asc(picture.id))
      .limit(BATCH);
    if (rows.length === 0) break;
    const { dataDir, reserve } = config();
    await ensureRoom(dataDir, 0, reserve);
    if (done === 0) await found();
    done += rows.length;
    progress(Math.min(1, done / all));
    const known = await copyKnown(db, rows);
    const fresh = rows.filter((r) => !known.has(r.id));
    if (fresh.length === 0) continue;
    const seen = await Promise.all(fresh.map((row) => queue.add(() => analyseOne(row))));
    await keepFiles(db, new Map(seen.flatMap(({ thumb }) => (thumb ? [[sha256Of(thumb), thumb] as const] : []))));
    const kept = seen.map((s) => ({ ...s, thumb: s.thumb ? sha256Of(s.thumb) : null }));
    await db.execute(sql`update ${picture} set analysis_version = r."analysisVersion", broken = r.broken, unread = r.unread, lighter = r.lighter,
      colours = r.colours, thumb = r.thumb, kind = r.kind, kind_sure = r.kind_sure, details = r.details,
      fingerprint = r.fingerprint, file_words = r.file_words, file_words_from = r.file_words_from, rights = r.rights
      from json_to_recordset(${storable(kept)}::json) as r(id int, "analysisVersion" int, broken jsonb,
        unread jsonb, lighter int, colours jsonb, thumb text,
        kind text, kind_sure real, details json, fingerprint json, file_words text, file_words_from text, rights json)
      where picture.id = r.id`);
  }
  return done;
}

/** Takes over what was seen of the same file in another collection; gives back whose that was. */
async function copyKnown(db: Queryable, rows: readonly Row[]): Promise<Set<number>> {
  // Inline markup is judged otherwise than a file.
  const ids = rows.flatMap((r) => (r.sha256 !== null && r.src !== null ? [r.id] : []));
  if (ids.length === 0) return new Set();
  const copied =
    await db.execute(sql`update ${picture} set analysis_version = ${ANALYSIS_VERSION}, broken = k.broken, lighter = k.lighter,
      colours = k.colours, thumb = k.thumb, kind = k.kind, kind_sure = k.kind_sure, details = k.details,
      fingerprint = k.fingerprint, file_words = k.file_words, file_words_from = k.file_words_from, rights = k.rights
    from (
      select distinct on (o.id) o.id own, p.* from ${picture} o
      join ${picture} p on p.sha256 = o.sha256 and p.id <> o.id and p.analysis_version = ${ANALYSIS_VERSION} and p.src is not null
      where o.id in ${ids} order by o.id, p.id
    ) k
    where picture.id = k.own returning picture.id`);
  return new Set((copied as unknown as { rows: { id: number }[] }).rows.map((r) => r.id));
}

type Row = Pick<typeof picture.$inferSelect, 'id' | 'sha256' | 'src' | 'type' | 'broken' | 'analysisVersion'>;

async function analyseOne({ id, sha256, src, type, broken: before, analysisVersion }: Row) {
  const nothing: AnalysisResult = {
    broken: before,
    lighter: null,
    colours: [],
    thumb: null,
    kind: null,
    fingerprint: null,
    details: null,
  };
  if (sha256 === null || before !== null) return row(id, nothing);
  try {
    const look = await sharedReaders().look(await readFile(sha256));
    // Inline markup is drawn by the page, whatever a drawing library makes of it on its own.
    const drawn = src === null && type === 'image/svg+xml';
    return row(id, { ...look, broken: drawn ? null : look.broken });
  } catch (error) {
    if (error instanceof DamagedFileError) return { ...row(id, nothing), unread: plain(error.message) };
    // Once more, after all others: a busy machine makes a decoder slow.
    if (analysisVersion !== -ANALYSIS_VERSION) return { ...row(id, nothing), analysisVersion: -ANALYSIS_VERSION };
    return row(id, { ...nothing, broken: reasonOf(error) });
  }
}

/** A look as the columns of a picture. */
function row(id: number, look: AnalysisResult) {
  const { broken, lighter, colours, thumb, details, fingerprint } = look;
  const { kind, sure, words, wordsFrom, rights } = analysisFrom(look)!;
  return {
    ...{
      id,
      analysisVersion: ANALYSIS_VERSION,
      broken,
      unread: null as string | null,
      lighter,
      colours,
      thumb,
      kind,
      kind_sure: sure,
      details,
      fingerprint,
    },
    ...{ file_words: words, file_words_from: wordsFrom, rights },
  };
}
