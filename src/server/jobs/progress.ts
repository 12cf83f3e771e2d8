import { and, eq, inArray, sql } from 'drizzle-orm';
import type { JobProgress } from '@/contract/jobs';
import { database, type Queryable } from '../db/database';
import { jobProgress } from '../db/schema';
import type { JobKind } from './kinds';

/** Notes that a job waits, unless one of its kind is under way for the collection. */
export async function noteWaiting(db: Queryable, kind: JobKind, collectionId: string): Promise<void> {
  // A collection may be removed while a job for it is enqueued.
  await db.execute(sql`insert into job_progress (kind, collection_id, state)
    select ${kind}, id, 'waiting' from collection where id = ${collectionId}
    on conflict (kind, collection_id) do update set state = 'waiting', share = null, detail = null, error = null, updated_at = now()
    where job_progress.state = 'failed'`);
}

export async function noteRunning(kind: JobKind, collectionId: string): Promise<void> {
  const db = await database();
  await db.execute(sql`insert into job_progress (kind, collection_id, state)
    select ${kind}, id, 'running' from collection where id = ${collectionId}
    on conflict (kind, collection_id) do update set state = case job_progress.state when 'stopping' then 'stopping' else 'running' end,
      share = null, detail = null, error = null, updated_at = now()`);
}

/** @param share from 0 to 1; null where nobody can say */
export async function noteShare(
  kind: JobKind,
  collectionId: string,
  share: number | null,
  detail: unknown,
): Promise<void> {
  const db = await database();
  await db
    .update(jobProgress)
    .set({ share, detail, updatedAt: sql`now()` })
    .where(and(eq(jobProgress.kind, kind), eq(jobProgress.collectionId, collectionId)));
}

/** Notes that nothing of the kind is left to do, or why it could not be done. */
export async function noteOver(kind: JobKind, collectionId: string, error: string | null): Promise<void> {
  const db = await database();
  const mine = and(eq(jobProgress.kind, kind), eq(jobProgress.collectionId, collectionId));
  if (error === null) await db.delete(jobProgress).where(mine);
  else await db.update(jobProgress).set({ state: 'failed', error, share: null }).where(mine);
}

/** Asks whoever runs it to stop; what was done stays. */
export async function requestStop(kind: JobKind, collectionId: string): Promise<void> {
  const db = await database();
  await db
    .update(jobProgress)
    .set({ state: 'stopping' })
    .where(and(eq(jobProgress.kind, kind), eq(jobProgress.collectionId, collectionId)));
}

/** The collections of which a job is asked to stop, by kind. */
export async function stopRequests(): Promise<{ kind: JobKind; collectionId: string }[]> {
  const db = await database();
  const rows = await db
    .select({ kind: jobProgress.kind, collectionId: jobProgress.collectionId })
    .from(jobProgress)
    .where(eq(jobProgress.state, 'stopping'));
  return rows as { kind: JobKind; collectionId: string }[];
}

/** What is done in the background for a collection, and how far it is. */
export async function progressOf(collectionId: string): Promise<JobProgress[]> {
  const db = await database();
  const rows = await db.select().from(jobProgress).where(eq(jobProgress.collectionId, collectionId));
  return rows.map(({ kind, state, share, error }) => ({ kind: kind as JobKind, state, share, error }));
}

/** What a job has said of itself besides its share; null where none of the kind runs. */
export async function detailOf<T>(kind: JobKind, collectionId: string): Promise<T | null> {
  const db = await database();
  const [row] = await db
    .select({ detail: jobProgress.detail })
    .from(jobProgress)
    .where(and(eq(jobProgress.kind, kind), eq(jobProgress.collectionId, collectionId)));
  return (row?.detail ?? null) as T | null;
}

/** What comes after a survey until everything that can be found is found. */
const AFTER_SURVEY: JobKind[] = ['audit', 'analysis', 'recognition', 'conclusions', 'recheck'];

/** Whether more may still be found of what a survey has gathered. */
export const isAnalysing = (collectionId: string): Promise<boolean> => isUnderWay(AFTER_SURVEY, collectionId);

/** Whether anything of some kinds waits or runs for a collection. */
export async function isUnderWay(kinds: JobKind[], collectionId: string): Promise<boolean> {
  const db = await database();
  const [row] = await db
    .select({ kind: jobProgress.kind })
    .from(jobProgress)
    .where(
      and(
        eq(jobProgress.collectionId, collectionId),
        inArray(jobProgress.kind, kinds),
        sql`${jobProgress.state} <> 'failed'`,
      ),
    )
    .limit(1);
  return row !== undefined;
}
