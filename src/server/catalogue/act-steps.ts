import { and, asc, desc, eq } from 'drizzle-orm';
import type { Queryable } from '../db/database';
import { among, insertRows } from '../db/bulk';
import { actStep } from '../db/schema';

export type StepKind = (typeof actStep.$inferSelect)['kind'];

/** One thing that an act changed: what stood there before, and after. */
export interface Step {
  kind: StepKind;
  /** Id of the appearance or picture; 0 for the collection. */
  target: number;
  before: unknown;
  after: unknown;
}

/** Notes what an act changes that has no history of its own, in the transaction that changes it. */
export async function recordSteps(
  tx: Queryable,
  collectionId: string,
  act: string,
  steps: readonly Step[],
): Promise<void> {
  await insertRows(
    tx,
    actStep,
    steps.map((step) => ({ collectionId, act, ...step })),
  );
}

/** Steps that are taken back or again at a time. */
const PORTION = 400;

/**
 * Steps of an act that are to be taken back, the latest first, or to be taken again, the first first, so many at a time;
 * they count as that from now on.
 */
export async function turnSteps(
  tx: Queryable,
  collectionId: string,
  act: string,
  direction: 'undo' | 'redo',
): Promise<Step[]> {
  const undone = direction === 'redo';
  const mine = and(eq(actStep.collectionId, collectionId), eq(actStep.act, act), eq(actStep.undone, undone));
  const steps = await tx
    .select()
    .from(actStep)
    .where(mine)
    .orderBy(undone ? asc(actStep.id) : desc(actStep.id))
    .limit(PORTION);
  const ids = steps.map((s) => s.id);
  if (ids.length > 0) await tx.update(actStep).set({ undone: !undone }).where(among(actStep.id, ids));
  return steps.map(({ kind, target, before, after }) => ({ kind, target, before, after }));
}
