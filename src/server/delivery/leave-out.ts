import { and, eq } from 'drizzle-orm';
import { recordSteps } from '../catalogue/act-steps';
import { announceChange } from '../changes';
import { among } from '../db/bulk';
import { collectionTransaction } from '../db/database';
import { appearance } from '../db/schema';

/** Leaves the words of some places out of the delivery for now, or puts them back, under an act that can be undone. */
export async function leaveOut(
  collectionId: string,
  ids: readonly number[],
  leftOut: boolean,
  act: string,
): Promise<void> {
  await collectionTransaction(collectionId, async (tx) => {
    const mine = and(eq(appearance.collectionId, collectionId), among(appearance.id, ids));
    const rows = await tx.select({ id: appearance.id, before: appearance.leftOut }).from(appearance).where(mine);
    const steps = rows.map(({ id, before }) => ({ kind: 'left-out' as const, target: id, before, after: leftOut }));
    await recordSteps(tx, collectionId, act, steps);
    await tx.update(appearance).set({ leftOut }).where(mine);
  });
  announceChange({ collectionId, pictures: null });
}
