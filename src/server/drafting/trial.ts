import { UserError } from '@/core/model/user-error';
import { randomUUID } from 'node:crypto';
import { and, eq, sql } from 'drizzle-orm';
import type { Message } from '@/core/model/message';
import { nameOf } from '../catalogue/lines';
import { thumbOf } from '../catalogue/picture-rows';
import { database } from '../db/database';
import { appearance, picture } from '../db/schema';
import { DraftingError } from './drafting-error';
import { monthlyBudget } from './ledger';
import { SINGLE } from './drafter';
import { draftRequests } from './draft-requests';
import { ModelDrafter } from './model-drafter';
import { instructionsOf } from './prompts';
import { hostOf } from './service-address';
import { hasConsent, serviceById } from './services';

const PICTURES = 5;

/** A draft of a trial, or why there is none. */
type Tried = { text: string | null } | { reason: Message };

/** One picture of a trial: its draft with the instructions as they are, and as they might be. */
export interface TrialRow {
  picture: number;
  name: string | Message;
  thumb: string | null;
  now: Tried;
  then: Tried;
}

/**
 * Drafts five pictures with two sets of instructions, side by side; nothing of it is kept but what it cost.
 *
 * @throws Error in words when the service is not there, or nobody has agreed to what would be sent
 */
export async function tryInstructions(
  collectionId: string,
  serviceId: number,
  instructions: string,
): Promise<TrialRow[]> {
  const db = await database();
  const service = await serviceById(db, serviceId);
  if (!service) throw new UserError('The service was removed. Choose another drafter.');
  if (!(await hasConsent(db, collectionId, service.address)))
    throw new UserError(
      `Pictures would be sent to ${hostOf(service.address)}. Start a round there once and agree to that.`,
    );
  const rows = await db
    .selectDistinctOn([picture.id], { id: appearance.id, picture, reading: appearance.reading })
    .from(appearance)
    .innerJoin(picture, eq(picture.id, appearance.pictureId))
    .where(
      and(
        eq(appearance.collectionId, collectionId),
        eq(appearance.gone, false),
        sql`${appearance.purpose} <> 'decorative' and ${picture.sha256} is not null and ${picture.broken} is null`,
      ),
    )
    .orderBy(picture.id, appearance.id)
    .limit(200);
  // Evenly spread, so that a trial is not of five neighbours.
  const step = Math.max(1, rows.length / PICTURES);
  const chosen = Array.from({ length: Math.min(PICTURES, rows.length) }, (_, i) => rows[Math.floor(i * step)]!);
  const requests = await draftRequests(
    db,
    collectionId,
    chosen.map((c) => c.id),
  );
  const { instructions: now, label } = await instructionsOf(db, collectionId);
  const drafter = new ModelDrafter({
    ...{ service, collectionId, roundId: null, prompt: label, ledger: monthlyBudget },
    faultsOf: async () => [],
  });
  const one = async (i: number, told: string): Promise<Tried> => {
    const request = requests.find((r) => r.appearanceId === chosen[i]!.id)!;
    const wish = { key: `detto-trial-${randomUUID()}`, priority: SINGLE, hint: null, wanted: [], current: null };
    try {
      const about = { ...request.about, instructions: told };
      const { text } = await drafter.draft({ ...request, about }, wish, new AbortController().signal);
      return { text };
    } catch (error) {
      if (error instanceof DraftingError) return { reason: error.reason };
      throw error;
    }
  };
  return Promise.all(
    chosen.map(async ({ picture: p, reading }, i) => {
      const [before, after] = await Promise.all([one(i, now), one(i, instructions)]);
      return { picture: p.id, name: nameOf(p, reading), thumb: thumbOf(p), now: before, then: after };
    }),
  );
}
