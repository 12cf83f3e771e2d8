import { eq } from 'drizzle-orm';
import { database, type Queryable } from '../db/database';
import { draftingCall, draftingService } from '../db/schema';
import { DraftingError } from './drafting-error';
import { spentThisMonth } from './services';

/** A request that is about to be paid. */
export interface Payment {
  serviceId: number;
  /** Null for a test of the service. */
  collectionId: string | null;
  roundId: number | null;
  /** The most that it can cost, in the currency of the service. */
  most: number;
}

/** Money set aside for one request. */
export interface Reservation {
  /** It was answered, and cost so much. */
  settle(tokensIn: number, tokensOut: number, cost: number): Promise<void>;
  /** It was refused, and cost nothing. What is neither settled nor released counts as spent: it may have been paid. */
  release(): Promise<void>;
}

/** Where the money for requests comes from. */
export interface Ledger {
  /** @throws DraftingError with the code `budget` where it is not there */
  reserve(payment: Payment): Promise<Reservation>;
}

/** For services whose spending nobody limits, as on the command line. */
export const UNLIMITED: Ledger = {
  reserve: async () => ({ settle: async () => undefined, release: async () => undefined }),
};

/**
 * The monthly budget of a service as one figure in the database: whatever asks, rounds, trials or single drafts, sets its
 * money aside there before it sends anything, so that together they never spend more.
 */
export const monthlyBudget: Ledger = {
  async reserve({ serviceId, collectionId, roundId, most }) {
    const db = await database();
    const id = await db.transaction(async (tx) => {
      await refuseBeyond(tx, serviceId, most);
      const call = { serviceId, collectionId, roundId, tokensIn: 0, tokensOut: 0, cost: most, isSettled: false };
      const [row] = await tx.insert(draftingCall).values(call).returning({ id: draftingCall.id });
      return row!.id;
    });
    return {
      async settle(tokensIn, tokensOut, cost) {
        await db
          .update(draftingCall)
          .set({ tokensIn, tokensOut, cost, isSettled: true })
          .where(eq(draftingCall.id, id));
      },
      async release() {
        await db.delete(draftingCall).where(eq(draftingCall.id, id));
      },
    };
  },
};

/** The service's row is locked until the money is set aside, and its settings are those that hold now. */
async function refuseBeyond(tx: Queryable, serviceId: number, most: number): Promise<void> {
  const [service] = await tx
    .select({ budget: draftingService.monthlyBudget, currency: draftingService.currency })
    .from(draftingService)
    .where(eq(draftingService.id, serviceId))
    .for('update');
  if (!service) throw new DraftingError('refused', { id: 'drafting.service-gone' });
  const { budget, currency } = service;
  if (budget === null || (await spentThisMonth(tx, serviceId)) + most <= budget) return;
  throw new DraftingError('budget', { id: 'round.monthly-budget', values: { budget, currency } });
}
