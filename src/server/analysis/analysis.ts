import { eq, sql } from 'drizzle-orm';
import { PICTURE_RULES } from '@/core/rules';
import { auditAll } from '../audit/audit';
import { database } from '../db/database';
import { collection, picture } from '../db/schema';
import { log, messageOf } from '../log';
import { groupPictures } from './grouping';
import { analysable } from './analysable';
import { recognisable, recognisePictures, RECOGNITION_VERSION } from './recognition';
import { updatePurposes } from './purposes';
import { ANALYSIS_VERSION, analysePictures } from './analyse-pictures';

interface RunningAnalysis {
  controller: AbortController;
  finished: Promise<void>;
}

/** One register for the process, across the bundles that Next makes of the server. */
const shared = globalThis as typeof globalThis & { dettoAnalysis?: Map<string, RunningAnalysis> };
const register = (shared.dettoAnalysis ??= new Map());

/**
 * Begins to look at the pictures of a collection in the background, unless that is under way: what kind they are and
 * what they are like, then what is written and shown in them. Each picture is looked at once for a version of the
 * analysis; a process that ends in between goes on at its next start.
 *
 * @param surveyed new appearances may be there, of pictures that are known already
 */
export function analyseCollection(collectionId: string, surveyed = false): void {
  if (register.has(collectionId)) return;
  const controller = new AbortController();
  const finished = look(collectionId, surveyed, controller.signal)
    .catch((error: unknown) =>
      log.error({ collectionId, message: messageOf(error) }, 'pictures could not be looked at'),
    )
    .finally(() => register.delete(collectionId));
  register.set(collectionId, { controller, finished });
}

/** Whether the pictures of a collection are being looked at, or what follows from it is found. */
export const isAnalysing = (collectionId: string): boolean => register.has(collectionId);

export interface Standing {
  /** Whether it is under way. */
  isAnalysing: boolean;
  /** Pictures that have been looked at, of those that can be. */
  analysisVersion: number;
  toAnalyse: number;
  /** Pictures whose text and things have been read, of those where there may be any. */
  recognitionVersion: number;
  toRecognise: number;
}

export async function analysisProgress(collectionId: string): Promise<Standing> {
  const db = await database();
  const [counts] = await db
    .select({
      toAnalyse: sql`count(*)`.mapWith(Number),
      analysisVersion: sql`count(*) filter (where ${picture.analysisVersion} = ${ANALYSIS_VERSION})`.mapWith(Number),
      recognitionVersion:
        sql`count(*) filter (where ${picture.recognitionVersion} = ${RECOGNITION_VERSION} and ${recognisable})`.mapWith(
          Number,
        ),
      toRecognise: sql`count(*) filter (where ${recognisable})`.mapWith(Number),
    })
    .from(picture)
    .where(analysable(collectionId));
  return { isAnalysing: isAnalysing(collectionId), ...counts! };
}

/** Ends looking everywhere; the next start goes on. */
export async function stopAnalysis(): Promise<void> {
  const all = [...register.values()];
  for (const { controller } of all) controller.abort();
  await Promise.all(all.map(({ finished }) => finished));
}

async function look(collectionId: string, surveyed: boolean, signal: AbortSignal): Promise<void> {
  const db = await database();
  const mark = (analysisPending: boolean) =>
    db.update(collection).set({ analysisPending }).where(eq(collection.id, collectionId));
  const [before] = await db
    .select({ analysisPending: collection.analysisPending })
    .from(collection)
    .where(eq(collection.id, collectionId));
  // Marked first, so that a process that ends in between concludes at its next start.
  const conclude = async () => {
    await groupPictures(collectionId);
    await updatePurposes(collectionId, signal);
    if (signal.aborted) return;
    await auditAll(collectionId, { only: PICTURE_RULES });
    if (!signal.aborted) await mark(false);
  };
  const seen = await analysePictures(collectionId, signal, () => mark(true));
  if (signal.aborted) return;
  if (seen > 0 || surveyed || before?.analysisPending) await conclude();
  if (signal.aborted) return;
  const read = await recognisePictures(collectionId, signal, () => mark(true));
  if (read > 0 && !signal.aborted) await conclude();
}
