import { eq, sql } from 'drizzle-orm';
import type { RuleStyle } from '@/core/audit';
import { changedRules } from '@/core/house-style/house-style';
import { database } from '../db/database';
import { appearance, collection, finding } from '../db/schema';
import { enqueueRecheck, transactionWithJobs } from '../jobs/queue';
import { auditChanged } from './audit-changes';

/** Saves a house style; the rules that it changes check the collection again in the background. */
export async function saveHouseStyle(collectionId: string, style: RuleStyle): Promise<void> {
  await transactionWithJobs(async (tx) => {
    const [row] = await tx.select({ before: collection.style }).from(collection).where(eq(collection.id, collectionId));
    if (!row) return;
    await tx
      .update(collection)
      .set({ style, changes: sql`${collection.changes} + 1` })
      .where(eq(collection.id, collectionId));
    const changed = changedRules(row.before, style);
    if (changed.length > 0) await enqueueRecheck(collectionId, changed, tx);
  });
}

/** Adds a word to the known words of the house style, and checks again where it was reported as misspelt. */
export async function acceptWord(collectionId: string, word: string): Promise<void> {
  const db = await database();
  await db.transaction(async (tx) => {
    const [row] = await tx.select({ style: collection.style }).from(collection).where(eq(collection.id, collectionId));
    if (!row) return;
    const own = row.style['misspelt'];
    const words = (own?.parameters?.['words'] as string[] | undefined) ?? [];
    const style = {
      ...row.style,
      misspelt: { ...own, parameters: { ...own?.parameters, words: [...new Set([...words, word])].sort() } },
    };
    await tx.update(collection).set({ style }).where(eq(collection.id, collectionId));
    const doubted = await tx
      .selectDistinct({ id: finding.appearanceId })
      .from(finding)
      .innerJoin(appearance, eq(appearance.id, finding.appearanceId))
      .where(
        sql`${finding.collectionId} = ${collectionId} and ${finding.rule} = 'misspelt'
          and position(lower(${word}) in lower(${finding.message}::text)) > 0`,
      );
    await auditChanged(
      tx,
      collectionId,
      doubted.map((d) => d.id),
      [],
    );
  });
}
