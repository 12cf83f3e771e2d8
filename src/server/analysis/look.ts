import { and, asc, desc, eq, isNotNull, isNull, sql } from 'drizzle-orm';
import PQueue from 'p-queue';
import { RULES } from '@/core/rules';
import { auditAll } from '../audit/audit';
import { keepFiles, readFile, sha256Of } from '../blobs/blobs';
import { database } from '../db/database';
import { storable } from '../db/bulk';
import { picture } from '../db/schema';
import { log, messageOf } from '../log';
import { sharedReaders } from './reader-pool';

/** Rises when what is looked for changes, so that everything is looked at anew. */
export const ANALYSIS = 1;
const BATCH = 40;
const CONCURRENCY = 2;

interface Looking {
  controller: AbortController;
  finished: Promise<void>;
}

/** One register for the process, across the bundles that Next makes of the server. */
const shared = globalThis as typeof globalThis & { dettoLooking?: Map<string, Looking> };
const register = (shared.dettoLooking ??= new Map());

const lookable = (collectionId: string) =>
  and(eq(picture.collectionId, collectionId), isNotNull(picture.type), isNull(picture.unread));

/** Begins to look at the pictures of a collection in the background, unless that is under way. */
export function lookAtPictures(collectionId: string): void {
  if (register.has(collectionId)) return;
  const controller = new AbortController();
  const finished = look(collectionId, controller.signal)
    .catch((error: unknown) =>
      log.error({ collectionId, message: messageOf(error) }, 'pictures could not be looked at'),
    )
    .finally(() => register.delete(collectionId));
  register.set(collectionId, { controller, finished });
}

/** How many pictures have been looked at, of those that can be. */
export async function lookedAt(collectionId: string): Promise<{ looked: number; toLookAt: number }> {
  const db = await database();
  const [counts] = await db
    .select({
      toLookAt: sql`count(*)`.mapWith(Number),
      looked: sql`count(*) filter (where looked = ${ANALYSIS})`.mapWith(Number),
    })
    .from(picture)
    .where(lookable(collectionId));
  return counts!;
}

/** Ends looking everywhere; the next start goes on. */
export async function stopLooking(): Promise<void> {
  const all = [...register.values()];
  for (const { controller } of all) controller.abort();
  await Promise.all(all.map(({ finished }) => finished));
}

/** Decodes each picture once: whether it decodes, thumbnail, colours, weight of a copy. Most used first. */
async function look(collectionId: string, signal: AbortSignal): Promise<void> {
  const db = await database();
  const queue = new PQueue({ concurrency: CONCURRENCY });
  let telling = false;
  while (!signal.aborted) {
    const rows = await db
      .select({ id: picture.id, sha256: picture.sha256, src: picture.src, type: picture.type, broken: picture.broken })
      .from(picture)
      .where(and(lookable(collectionId), sql`looked <> ${ANALYSIS}`))
      .orderBy(desc(picture.reach), asc(picture.id))
      .limit(BATCH);
    if (rows.length === 0) break;
    const seen = await Promise.all(rows.map((row) => queue.add(() => lookAtOne(row))));
    await keepFiles(db, new Map(seen.flatMap(({ thumb }) => (thumb ? [[sha256Of(thumb), thumb] as const] : []))));
    const found = seen.map((s) => ({ ...s, thumb: s.thumb ? sha256Of(s.thumb) : null }));
    await db.execute(sql`update ${picture} set looked = ${ANALYSIS}, broken = r.broken, lighter = r.lighter,
      colours = r.colours, thumb = r.thumb
      from json_to_recordset(${storable(found)}::json) as r(id int, broken text, lighter int, colours jsonb, thumb text)
      where picture.id = r.id`);
    telling ||= seen.some((s, i) => s.lighter !== null || s.broken !== rows[i]!.broken);
  }
  // What was found out by looking may please or displease a rule on files.
  const only = RULES.filter((r) => r.group === 'files').map((r) => r.id);
  if (telling && !signal.aborted) await auditAll(collectionId, { only });
}

type Row = Pick<typeof picture.$inferSelect, 'id' | 'sha256' | 'src' | 'type' | 'broken'>;

async function lookAtOne({ id, sha256, src, type, broken: before }: Row) {
  const nothing = { id, lighter: null, colours: [] as string[], thumb: null as Buffer | null };
  if (sha256 === null || before !== null) return { ...nothing, broken: before };
  try {
    const { thumb, broken, lighter, colours } = await sharedReaders().look(await readFile(sha256));
    // Inline markup is drawn by the page, whatever a drawing library makes of it on its own.
    const drawn = src === null && type === 'image/svg+xml';
    return { id, broken: drawn ? null : broken, lighter, colours, thumb };
  } catch (error) {
    return { ...nothing, broken: (error as Error).message };
  }
}
