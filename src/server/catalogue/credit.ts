import { and, eq } from 'drizzle-orm';
import type { Credit } from '@/core/picture/credit';
import { database } from '../db/database';
import { picture } from '../db/schema';

/** Records whom a picture is owed to; all empty takes the record away. */
export async function recordCredit(collectionId: string, pictureId: number, credit: Credit): Promise<void> {
  const db = await database();
  const empty = Object.values(credit).every((v) => v === '');
  await db
    .update(picture)
    .set({ credit: empty ? null : credit })
    .where(and(eq(picture.id, pictureId), eq(picture.collectionId, collectionId)));
}
