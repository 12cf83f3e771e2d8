import type { DeliveryPlan, TargetId } from '@/contract/delivery';
import { UserError } from '@/core/model/user-error';
import type { Collection } from '../catalogue/collections';
import { database } from '../db/database';
import { deliverable } from './deliverable';
import { NAMED } from './deliveries';
import { targetById } from './targets';
import { DocumentRefusedError } from './targets/target';

/** What a target would do with the documents as they are prepared, without touching anything. */
export async function planOfTarget(
  c: Collection,
  targetId: TargetId,
  asked: Record<string, unknown>,
): Promise<DeliveryPlan> {
  const target = targetById(targetId);
  if (target.defaults(c) === null) throw new UserError({ id: 'target.not-offered' });
  const configuration = target.configuration.parse(asked);
  const plan: DeliveryPlan = { writes: 0, creates: 0, refused: { count: 0, first: [] } };
  for await (const document of deliverable(await database(), c.id, target.takes))
    try {
      const { creates } = await target.plan(document, configuration);
      plan.writes++;
      plan.creates += Number(creates);
    } catch (error) {
      if (!(error instanceof DocumentRefusedError)) throw error;
      plan.refused.count++;
      if (plan.refused.first.length < NAMED) plan.refused.first.push({ path: document.path, reason: error.reason });
    }
  return plan;
}
