import { and, eq, sql } from 'drizzle-orm';
import type { BulkState, BulkWork, StoredWork } from '@/contract/bulk';
import type { Target } from '@/contract/target';
import { ignoreFindings } from '../audit/ignored';
import { among } from '../db/bulk';
import { database } from '../db/database';
import { bulkAct, wording } from '../db/schema';
import { draftTexts } from '../drafting/drafts';
import { enqueue } from '../jobs/queue';
import { acceptDrafts, rejectDrafts, saveTexts, settlePurpose } from '../wordings/wordings';
import { pageTitles, planOf, replacedTexts } from './plan';

/** Places that are changed in one transaction. */
const PORTION = 250;
/** With so many, it is done in the background. */
const MANY = 500;

/**
 * Does something to many places under one act: at once where they are few, else in the background.
 *
 * @returns how far it is; {@link bulkState} says more later
 */
export async function startBulk(collectionId: string, target: Target, work: BulkWork, act: string): Promise<BulkState> {
  const { ids } = await planOf(collectionId, target, work);
  return begin(collectionId, ids, work, act);
}

/**
 * Saves texts, each at its place, as {@link startBulk} does with other acts.
 *
 * @param source of texts that are only left as drafts, what they come from; null to save them
 */
export async function startTexts(
  collectionId: string,
  texts: readonly { appearanceId: number; text: string }[],
  act: string,
  source: string | null = null,
): Promise<BulkState> {
  const own = texts.map((t): [number, string] => [t.appearanceId, t.text]);
  const work: StoredWork = source === null ? { kind: 'texts', texts: own } : { kind: 'drafts', texts: own, source };
  return begin(
    collectionId,
    texts.map((t) => t.appearanceId),
    work,
    act,
  );
}

async function begin(collectionId: string, ids: number[], work: StoredWork, act: string): Promise<BulkState> {
  const db = await database();
  const begun = await db
    .insert(bulkAct)
    .values({ collectionId, act, work, ids })
    .onConflictDoNothing()
    .returning({ act: bulkAct.act });
  // What is asked for once more, such as by a request that was sent again, is done once.
  if (begun.length === 0) return (await bulkState(collectionId, act))!;
  if (ids.length > MANY) await enqueue('bulk', { collectionId, act }, { key: `${collectionId} ${act}` });
  else await performBulk(collectionId, act);
  return (await bulkState(collectionId, act))!;
}

/** How far a bulk act is; null where there is no such act. */
export async function bulkState(collectionId: string, act: string): Promise<BulkState | null> {
  const db = await database();
  const [row] = await db
    .select({
      state: bulkAct.state,
      done: bulkAct.done,
      places: bulkAct.places,
      total: sql`cardinality(${bulkAct.ids})`.mapWith(Number),
    })
    .from(bulkAct)
    .where(and(eq(bulkAct.collectionId, collectionId), eq(bulkAct.act, act)));
  return row ?? null;
}

/**
 * Does what is left of a bulk act, in portions. It goes on where an earlier process ended: what was done twice under the
 * same act is done once.
 */
export async function performBulk(
  collectionId: string,
  act: string,
  { signal, report }: { signal?: AbortSignal; report?(share: number): void } = {},
): Promise<void> {
  const db = await database();
  const mine = and(eq(bulkAct.collectionId, collectionId), eq(bulkAct.act, act))!;
  const [row] = await db.select().from(bulkAct).where(mine);
  if (!row) return;
  let { done, places } = row;
  while (done < row.ids.length && !signal?.aborted) {
    const portion = row.ids.slice(done, done + PORTION);
    places += await perform(collectionId, row.work, portion, act);
    done += portion.length;
    await db.update(bulkAct).set({ done, places }).where(mine);
    report?.(done / row.ids.length);
  }
  if (done >= row.ids.length) await db.update(bulkAct).set({ state: 'done' }).where(mine);
}

/** Notes that a bulk act was given up; what it has done stays, and can be undone. */
export async function failBulk(collectionId: string, act: string): Promise<void> {
  const db = await database();
  await db
    .update(bulkAct)
    .set({ state: 'failed' })
    .where(and(eq(bulkAct.collectionId, collectionId), eq(bulkAct.act, act)));
}

/** @returns at how many of the places something was done */
async function perform(collectionId: string, work: StoredWork, ids: number[], act: string): Promise<number> {
  const save = async (texts: { appearanceId: number; text: string }[]) =>
    (await saveTexts({ collectionId, texts, act, by: 'person', isWhole: false })).places;
  switch (work.kind) {
    case 'decorative':
      return save(ids.map((appearanceId) => ({ appearanceId, text: '' })));
    case 'words':
      return save(ids.map((appearanceId) => ({ appearanceId, text: work.text })));
    case 'texts': {
      const text = new Map(work.texts);
      return save(ids.flatMap((id) => (text.has(id) ? [{ appearanceId: id, text: text.get(id)! }] : [])));
    }
    case 'drafts': {
      const text = new Map(work.texts);
      const drafts = ids.flatMap((id) => (text.has(id) ? [{ appearanceId: id, text: text.get(id)! }] : []));
      return draftTexts(collectionId, drafts, act, work.source);
    }
    case 'replace': {
      // What an earlier process has replaced is not replaced once more.
      const db = await database();
      const own = await db
        .select({ id: wording.appearanceId })
        .from(wording)
        .where(and(eq(wording.collectionId, collectionId), eq(wording.act, act), among(wording.appearanceId, ids)));
      const done = new Set(own.map((o) => o.id));
      const left = ids.filter((id) => !done.has(id));
      const texts = await replacedTexts(db, left, work);
      return save(texts.map(({ id, after }) => ({ appearanceId: id, text: after })));
    }
    case 'page-title': {
      const texts = await pageTitles(await database(), collectionId, ids);
      return save(texts.map(({ id, after }) => ({ appearanceId: id, text: after })));
    }
    case 'purpose':
      return settlePurpose(collectionId, ids, work.purpose, act);
    case 'ignore': {
      const { rule, reason, by } = work;
      return ignoreFindings({ collectionId, appearanceIds: ids, rule, reason, by, act });
    }
    case 'accept':
      return acceptDrafts(collectionId, ids, act);
    case 'reject':
      return rejectDrafts(collectionId, ids, act);
  }
}
