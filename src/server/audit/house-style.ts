import { eq, sql } from 'drizzle-orm';
import type { RuleStyle } from '@/core/rules/audit';
import { changedRules } from '@/core/house-style/house-style';
import { recordSteps } from '../catalogue/act-steps';
import { announceChange } from '../changes';
import { collectionTransaction, database, type Queryable } from '../db/database';
import { appearance, collection, finding } from '../db/schema';
import { enqueueRecheck, transactionWithJobs } from '../jobs/queue';
import { auditChanged } from './audit-changes';

/** Saves a house style, under an act that can be undone; the rules that it changes check the collection in the background. */
export async function saveHouseStyle(collectionId: string, style: RuleStyle, act: string): Promise<void> {
  await transactionWithJobs(collectionId, async (tx) => {
    const before = await applyStyle(tx, collectionId, style);
    if (before) await recordSteps(tx, collectionId, act, [{ kind: 'style', target: 0, before, after: style }]);
  });
  announceChange({ collectionId, pictures: null });
}

/**
 * Makes a house style the one that counts.
 *
 * @param tx a transaction that may enqueue jobs
 * @returns the style before; null where there is no such collection
 */
export async function applyStyle(tx: Queryable, collectionId: string, style: RuleStyle): Promise<RuleStyle | null> {
  const [row] = await tx.select({ before: collection.style }).from(collection).where(eq(collection.id, collectionId));
  if (!row) return null;
  await tx
    .update(collection)
    .set({ style, changes: sql`${collection.changes} + 1` })
    .where(eq(collection.id, collectionId));
  const changed = changedRules(row.before, style);
  if (changed.length > 0) await enqueueRecheck(collectionId, changed, tx);
  return row.before;
}

/** Switches a rule off in the house style, under an act that can be undone. */
export async function switchRuleOff(collectionId: string, rule: string, act: string): Promise<void> {
  const db = await database();
  const [row] = await db.select({ style: collection.style }).from(collection).where(eq(collection.id, collectionId));
  if (row) await saveHouseStyle(collectionId, { ...row.style, [rule]: { ...row.style[rule], off: true } }, act);
}

/** Adds a word to the known words of the house style, and checks again where it was reported as misspelt. */
export async function acceptWord(collectionId: string, word: string, act: string): Promise<void> {
  await collectionTransaction(collectionId, async (tx) => {
    const [row] = await tx.select({ style: collection.style }).from(collection).where(eq(collection.id, collectionId));
    if (!row) return;
    const own = row.style['misspelt'];
    const words = (own?.parameters?.['words'] as string[] | undefined) ?? [];
    const style: RuleStyle = {
      ...row.style,
      misspelt: { ...own, parameters: { ...own?.parameters, words: [...new Set([...words, word])].sort() } },
    };
    await tx.update(collection).set({ style }).where(eq(collection.id, collectionId));
    await recordSteps(tx, collectionId, act, [{ kind: 'style', target: 0, before: row.style, after: style }]);
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
  announceChange({ collectionId, pictures: null });
}
