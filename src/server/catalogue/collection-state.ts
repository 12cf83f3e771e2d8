import { eq, sql } from 'drizzle-orm';
import { database, type Queryable } from '../db/database';
import { collection } from '../db/schema';

export interface CollectionState {
  /** Another one whenever what is counted of the collection may be another: with words, settings, surveys, and the jobs after them. */
  key: string;
  /** No survey and no job is under way that changes what is counted without changing the key. */
  isQuiet: boolean;
  revision: number;
}

/** What state a collection is in; null when there is no such collection. */
export async function collectionState(collectionId: string): Promise<CollectionState | null> {
  const db = await database();
  const [row] = await db
    .select({
      revision: collection.revision,
      changes: collection.changes,
      survey: sql<string>`coalesce((select s.id || ' ' || s.phase from survey s where s.collection_id = ${collectionId} order by s.id desc limit 1), '')`,
      // What is counted in the background changes nothing.
      jobs: sql<string>`coalesce((select string_agg(j.kind, ' ' order by j.kind) from job_progress j
        where j.collection_id = ${collectionId} and j.kind <> 'brief'), '')`,
    })
    .from(collection)
    .where(eq(collection.id, collectionId));
  if (!row) return null;
  const { revision, changes, survey, jobs } = row;
  const isQuiet = jobs === '' && (survey === '' || survey.endsWith(' over'));
  return { key: [revision, changes, survey, jobs].join(' '), isQuiet, revision };
}

/** Notes that what was counted of a collection before may not be true any more. */
export async function raiseChanges(tx: Queryable, collectionId: string): Promise<void> {
  await tx
    .update(collection)
    .set({ changes: sql`${collection.changes} + 1` })
    .where(eq(collection.id, collectionId));
}
