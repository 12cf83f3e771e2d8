import { UserError } from '@/core/model/user-error';
import { randomUUID } from 'node:crypto';
import sharp from 'sharp';
import { NOTHING_KNOWN } from '@/core/draft/compose';
import type { Message } from '@/core/model/message';
import { database } from '../db/database';
import { DraftingError } from './drafting-error';
import { monthlyBudget } from './ledger';
import { askModel } from './model-drafter';
import { serviceById } from './services';

/** What a service answered to a test, or why it did not. */
export type ServiceTest = { text: string; cost: number; ms: number } | { reason: Message };

/**
 * Asks a service about a picture of two blue squares that is drawn for it, so that nothing of a collection is sent.
 *
 * @throws Error in words when there is no such service
 */
export async function testService(id: number): Promise<ServiceTest> {
  const service = await serviceById(await database(), id);
  if (!service) throw new UserError('There is no such service.');
  const square = { create: { width: 60, height: 60, channels: 3 as const, background: '#2255cc' } };
  const image = await sharp({ create: { width: 240, height: 120, channels: 3, background: '#ffffff' } })
    .composite([
      { input: square, left: 30, top: 30 },
      { input: square, left: 150, top: 30 },
    ])
    .jpeg()
    .toBuffer();
  const begun = performance.now();
  try {
    const { text, cost } = await askModel({
      ...{ service, collectionId: null, roundId: null, ledger: monthlyBudget, image },
      system: `Say in one short sentence, at most ${NOTHING_KNOWN.limit} characters, what the image shows.`,
      messages: [],
      user: 'What does the image show?',
      ...{ key: `detto-test-${randomUUID()}`, priority: 10, signal: new AbortController().signal },
    });
    return { text: text.slice(0, 300), cost, ms: Math.round(performance.now() - begun) };
  } catch (error) {
    if (error instanceof DraftingError) return { reason: error.reason };
    throw error;
  }
}
