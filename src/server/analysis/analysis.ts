import { eq, sql } from 'drizzle-orm';
import { PICTURE_RULES } from '@/core/rules';
import { auditAll } from '../audit/audit';
import { database } from '../db/database';
import { collection, picture } from '../db/schema';
import { log, messageOf } from '../log';
import { groupPictures } from './grouping';
import { lookable } from './analysable';
import { perusable, perusePictures, PERUSAL } from './recognition';
import { proposeAnew } from './purposes';
import { ANALYSIS, seePictures } from './analyse-pictures';

interface Looking {
  controller: AbortController;
  finished: Promise<void>;
}

/** One register for the process, across the bundles that Next makes of the server. */
const shared = globalThis as typeof globalThis & { dettoLooking?: Map<string, Looking> };
const register = (shared.dettoLooking ??= new Map());

/**
 * Begins to look at the pictures of a collection in the background, unless that is under way: what kind they are and
 * what they are like, then what is written and shown in them. Each picture is looked at once for a version of the
 * analysis; a process that ends in between goes on at its next start.
 *
 * @param surveyed new appearances may be there, of pictures that are known already
 */
export function lookAtPictures(collectionId: string, surveyed = false): void {
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
export const isLooking = (collectionId: string): boolean => register.has(collectionId);

export interface Standing {
  /** Whether it is under way. */
  looking: boolean;
  /** Pictures that have been looked at, of those that can be. */
  looked: number;
  toLookAt: number;
  /** Pictures whose text and things have been read, of those where there may be any. */
  perused: number;
  toPeruse: number;
}

export async function lookedAt(collectionId: string): Promise<Standing> {
  const db = await database();
  const [counts] = await db
    .select({
      toLookAt: sql`count(*)`.mapWith(Number),
      looked: sql`count(*) filter (where ${picture.looked} = ${ANALYSIS})`.mapWith(Number),
      perused: sql`count(*) filter (where ${picture.perused} = ${PERUSAL} and ${perusable})`.mapWith(Number),
      toPeruse: sql`count(*) filter (where ${perusable})`.mapWith(Number),
    })
    .from(picture)
    .where(lookable(collectionId));
  return { looking: isLooking(collectionId), ...counts! };
}

/** Ends looking everywhere; the next start goes on. */
export async function stopLooking(): Promise<void> {
  const all = [...register.values()];
  for (const { controller } of all) controller.abort();
  await Promise.all(all.map(({ finished }) => finished));
}

async function look(collectionId: string, surveyed: boolean, signal: AbortSignal): Promise<void> {
  const db = await database();
  const mark = (seenAnew: boolean) => db.update(collection).set({ seenAnew }).where(eq(collection.id, collectionId));
  const [before] = await db
    .select({ seenAnew: collection.seenAnew })
    .from(collection)
    .where(eq(collection.id, collectionId));
  // Marked first, so that a process that ends in between concludes at its next start.
  const conclude = async () => {
    await groupPictures(collectionId);
    await proposeAnew(collectionId, signal);
    if (signal.aborted) return;
    await auditAll(collectionId, { only: PICTURE_RULES });
    if (!signal.aborted) await mark(false);
  };
  const seen = await seePictures(collectionId, signal, () => mark(true));
  if (signal.aborted) return;
  if (seen > 0 || surveyed || before?.seenAnew) await conclude();
  if (signal.aborted) return;
  const read = await perusePictures(collectionId, signal, () => mark(true));
  if (read > 0 && !signal.aborted) await conclude();
}
