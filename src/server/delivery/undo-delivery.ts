import { and, eq } from 'drizzle-orm';
import type { TargetId, Verification } from '@/contract/delivery';
import { UserError } from '@/core/model/user-error';
import type { Collection } from '../catalogue/collections';
import { collectionTransaction, database } from '../db/database';
import { deliveredDocument, delivery } from '../db/schema';
import { isSurveying } from '../survey/surveys';
import { canUndo, contextOf, NAMED, rowOf } from './deliveries';
import { waitAgain } from './delivered-texts';
import { afterDelivery, isSurveyed } from './perform-delivery';
import { receiptsOf } from './receipts';
import { targetById } from './targets';
import { DocumentRefusedError } from './targets/target';

/**
 * Takes a delivery back where the target can: every document gets its bytes of before again. Those that somebody has changed
 * since stay as they are, with the reason. Texts that a survey has found there since wait again.
 *
 * @throws UserError when there is no such delivery, or it cannot be undone
 */
export async function undoDelivery(c: Collection, id: number): Promise<void> {
  const row = await rowOf(c.id, id);
  const target = targetById(row.target as TargetId);
  if (!canUndo(row)) throw new UserError({ id: 'delivery.no-undo' });
  // Its survey would find texts in files that are taken back, or the other way round.
  if (isSurveyed(c, row) && (await isSurveying(c.id))) throw new UserError({ id: 'delivery.survey-runs' });
  const db = await database();
  for await (const { path: at, texts, ...receipt } of receiptsOf(db, id)) {
    const mine = and(eq(deliveredDocument.deliveryId, id), eq(deliveredDocument.path, at));
    try {
      await target.undo!(receipt, contextOf(row));
      await collectionTransaction(c.id, async (tx) => {
        if (texts) await waitAgain(tx, texts);
        await tx.update(deliveredDocument).set({ state: 'undone', reason: null, texts: null }).where(mine);
      });
    } catch (error) {
      if (!(error instanceof DocumentRefusedError)) throw error;
      await db.update(deliveredDocument).set({ reason: error.reason }).where(mine);
    }
  }
  await db.update(delivery).set({ state: 'undone' }).where(eq(delivery.id, id));
  await afterDelivery(c, row);
}

/**
 * Looks at what a delivery has put somewhere, whether it is still there.
 *
 * @throws UserError when there is no such delivery, or nobody can look there
 */
export async function verifyDelivery(collectionId: string, id: number): Promise<Verification> {
  const row = await rowOf(collectionId, id);
  const target = targetById(row.target as TargetId);
  if (!target.verify) throw new UserError({ id: 'delivery.no-verify' });
  const result: Verification = { counts: { 'as-written': 0, different: 0, gone: 0 }, first: [] };
  for await (const receipt of receiptsOf(await database(), id)) {
    const found = await target.verify(receipt, row.configuration);
    result.counts[found]++;
    if (found !== 'as-written' && result.first.length < NAMED) result.first.push({ address: receipt.address, found });
  }
  return result;
}
