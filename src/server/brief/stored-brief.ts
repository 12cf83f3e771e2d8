import { UserError } from '@/core/model/user-error';
import { eq } from 'drizzle-orm';
import type { Brief } from '@/contract/brief';
import { collectionById, countsOf, type Collection } from '../catalogue/collections';
import { collectionState } from '../catalogue/collection-state';
import { announceChange } from '../changes';
import { database } from '../db/database';
import { collection } from '../db/schema';
import { enqueue } from '../jobs/queue';
import { openConflicts } from '../wordings/conflicts';
import { brief, CONFLICTS_SHOWN } from './brief';

/** With fewer pictures, nobody waits long until it is counted. */
const MANY = 3_000;

/**
 * The Brief of a collection, counted again only when something has changed. That of a large one is counted in the background;
 * until that is done, it says what it said before. What waits for somebody to choose is always of now.
 *
 * @param many pictures from which a collection is large
 */
export async function storedBrief(c: Collection, many = MANY): Promise<Brief> {
  const counts = await countsOf(c.id);
  const isCurrent = c.brief !== null && c.briefOf === (await collectionState(c.id))?.key;
  if (!c.brief || (!isCurrent && counts.pictures < many)) return countAndStore(c);
  if (!isCurrent) await enqueue('brief', { collectionId: c.id });
  const db = await database();
  return {
    ...c.brief,
    // Absent in what an earlier version has counted.
    widespread: c.brief.widespread ?? [],
    thumbnails: c.brief.thumbnails ?? null,
    conflicts: { first: await openConflicts(db, c.id, undefined, CONFLICTS_SHOWN), total: counts.conflicts },
  };
}

/**
 * Counts the Brief of a collection and stores it with the state that it is of.
 *
 * @throws Error when there is no such collection
 */
export async function countBrief(collectionId: string): Promise<Brief> {
  const c = await collectionById(collectionId);
  if (!c) throw new UserError('There is no such collection.');
  const counted = await countAndStore(c);
  announceChange({ collectionId, pictures: [] });
  return counted;
}

async function countAndStore(c: Collection): Promise<Brief> {
  // Before it is counted: what changes meanwhile makes it old.
  const briefOf = (await collectionState(c.id))?.key ?? null;
  const counted = await brief(c);
  const db = await database();
  await db.update(collection).set({ brief: counted, briefOf }).where(eq(collection.id, c.id));
  return counted;
}
