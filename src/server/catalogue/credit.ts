import { and, desc, eq } from 'drizzle-orm';
import type { Credit } from '@/core/model/credit';
import { announceChange } from '../changes';
import { collectionTransaction, type Queryable } from '../db/database';
import { actStep, picture } from '../db/schema';
import { recordSteps } from './act-steps';

/** Records the credit of a picture, under an act that can be undone; all empty takes the record away. */
export async function recordCredit(
  collectionId: string,
  pictureId: number,
  credit: Credit,
  act: string,
): Promise<void> {
  const after = Object.values(credit).every((v) => v === '') ? null : credit;
  await collectionTransaction(collectionId, async (tx) => {
    const [row] = await tx
      .select({ before: picture.credit })
      .from(picture)
      .where(and(eq(picture.id, pictureId), eq(picture.collectionId, collectionId)));
    if (!row) return;
    await recordSteps(tx, collectionId, act, [{ kind: 'credit', target: pictureId, before: row.before, after }]);
    await setCredit(tx, pictureId, after);
  });
  announceChange({ collectionId, pictures: [pictureId] });
}

/** Credits that the Desk lists. */
const MOST_SHOWN = 5;

/** What was recorded for a picture, the latest first; all empty where a record was removed. */
export async function creditHistory(db: Queryable, collectionId: string, pictureId: number) {
  const steps = await db
    .select()
    .from(actStep)
    .where(and(eq(actStep.collectionId, collectionId), eq(actStep.kind, 'credit'), eq(actStep.target, pictureId)))
    .orderBy(desc(actStep.id))
    .limit(MOST_SHOWN);
  return steps.map(({ id, after, undone, at }) => ({
    id,
    credit: (after as Credit | null) ?? { credit: '', licence: '', source: '' },
    isUndone: undone,
    at: at.toISOString(),
  }));
}

export async function setCredit(tx: Queryable, pictureId: number, credit: Credit | null): Promise<void> {
  await tx.update(picture).set({ credit }).where(eq(picture.id, pictureId));
}
