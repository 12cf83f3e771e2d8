import { and, eq } from 'drizzle-orm';
import type { Placement } from '@/core/model/texts';
import { announceChange } from '../changes';
import { among } from '../db/bulk';
import { collectionTransaction } from '../db/database';
import { appearance, picture } from '../db/schema';
import { raiseChanges } from './collection-state';
import { recordSteps } from './act-steps';

/** Chooses where the long description of a picture stands, under an act that can be undone. */
export async function placeLongDescription(
  collectionId: string,
  pictureId: number,
  placement: Placement,
  act: string,
): Promise<void> {
  await collectionTransaction(collectionId, async (tx) => {
    const [row] = await tx
      .select({ before: picture.longPlacement })
      .from(picture)
      .where(and(eq(picture.id, pictureId), eq(picture.collectionId, collectionId)));
    if (!row) return;
    const step = { kind: 'placement' as const, target: pictureId, before: row.before, after: placement };
    await recordSteps(tx, collectionId, act, [step]);
    await tx.update(picture).set({ longPlacement: placement }).where(eq(picture.id, pictureId));
  });
  announceChange({ collectionId, pictures: [pictureId] });
}

/** Puts the credit line of a picture below it at some places, or leaves it off, under an act that can be undone. */
export async function showCreditLine(
  collectionId: string,
  places: readonly number[],
  creditLine: boolean,
  act: string,
): Promise<void> {
  const pictures = await collectionTransaction(collectionId, async (tx) => {
    const mine = and(eq(appearance.collectionId, collectionId), among(appearance.id, places));
    const rows = await tx
      .select({ id: appearance.id, pictureId: appearance.pictureId, before: appearance.creditLine })
      .from(appearance)
      .where(mine);
    const steps = rows.map(({ id, before }) => ({
      kind: 'credit-line' as const,
      target: id,
      before,
      after: creditLine,
    }));
    await recordSteps(tx, collectionId, act, steps);
    await tx.update(appearance).set({ creditLine }).where(mine);
    await raiseChanges(tx, collectionId);
    return [...new Set(rows.map((r) => r.pictureId))];
  });
  announceChange({ collectionId, pictures });
}
