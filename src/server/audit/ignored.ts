import { and, eq, inArray, ne, sql, type SQL } from 'drizzle-orm';
import { groupBy } from '@/core/group-by';
import { announceChange } from '../changes';
import { among } from '../db/bulk';
import { collectionTransaction, database, type Queryable } from '../db/database';
import { appearance, finding, picture, ignoredFinding, collection } from '../db/schema';
import { basisOf } from './findings';
import { ruleContexts } from './rule-contexts';
import { refreshPictures } from './picture-counts';

export interface Aside {
  collectionId: string;
  appearanceIds: readonly number[];
  rule: string;
  reason: string;
  /** Who, as they call themselves. */
  by: string;
  act: string;
}

/**
 * Sets what a rule found at appearances aside, until their words or their picture change.
 *
 * @returns at how many there was something to set aside
 */
export async function ignoreFindings({ appearanceIds, ...aside }: Aside): Promise<number> {
  const count = await collectionTransaction(aside.collectionId, async (tx) => {
    const found = await tx
      .selectDistinct({ id: finding.appearanceId })
      .from(finding)
      .where(
        and(
          eq(finding.collectionId, aside.collectionId),
          eq(finding.rule, aside.rule),
          eq(finding.ignored, false),
          among(finding.appearanceId, appearanceIds),
        ),
      );
    const ids = found.map((f) => f.id);
    if (ids.length === 0) return 0;
    const contexts = await ruleContexts(tx, among(appearance.id, ids));
    await tx
      .insert(ignoredFinding)
      .values(contexts.map((context) => ({ ...aside, appearanceId: Number(context.id), basis: basisOf(context) })));
    await mark(tx, ids, aside.rule, true);
    return ids.length;
  });
  announceChange({ collectionId: aside.collectionId, pictures: null });
  return count;
}

/** Shows again what is ignored at appearances, under an act that can be undone. */
export async function bringBack(
  collectionId: string,
  appearanceIds: readonly number[],
  rule: string,
  act: string,
): Promise<void> {
  await collectionTransaction(collectionId, async (tx) => {
    const which = and(
      eq(ignoredFinding.collectionId, collectionId),
      eq(ignoredFinding.rule, rule),
      eq(ignoredFinding.undone, false),
      among(ignoredFinding.appearanceId, appearanceIds),
    )!;
    await setUndone(tx, which, true, act);
  });
  announceChange({ collectionId, pictures: null });
}

/**
 * Undoes or redoes what an act ignored, or showed again.
 *
 * @returns the appearances where it did
 */
export async function turnIgnored(
  tx: Queryable,
  collectionId: string,
  act: string,
  direction: 'undo' | 'redo',
): Promise<number[]> {
  const mine = eq(ignoredFinding.collectionId, collectionId);
  const undone = direction === 'undo';
  const own = and(mine, eq(ignoredFinding.act, act), eq(ignoredFinding.undone, !undone))!;
  const shownAgain = and(
    mine,
    eq(ignoredFinding.undoneAct, act),
    ne(ignoredFinding.act, act),
    eq(ignoredFinding.undone, undone),
  )!;
  return [...(await setUndone(tx, own, undone, act)), ...(await setUndone(tx, shownAgain, !undone, act))];
}

async function setUndone(tx: Queryable, which: SQL, undone: boolean, act: string): Promise<number[]> {
  const rows = await tx
    .update(ignoredFinding)
    .set({ undone, undoneAct: act })
    .where(which)
    .returning({ id: ignoredFinding.appearanceId, rule: ignoredFinding.rule });
  for (const [rule, own] of groupBy(rows, (r) => r.rule))
    await mark(
      tx,
      own.map((r) => r.id),
      rule,
      !undone,
    );
  return rows.map((r) => r.id);
}

/** How many findings of a rule are set aside. */
export async function countIgnored(collectionId: string, rule: string): Promise<number> {
  const db = await database();
  const [row] = await db
    .select({ n: sql`count(*)`.mapWith(Number) })
    .from(finding)
    .where(and(eq(finding.collectionId, collectionId), eq(finding.rule, rule), eq(finding.ignored, true)));
  return row!.n;
}

async function mark(tx: Queryable, ids: readonly number[], rule: string, ignored: boolean): Promise<void> {
  await tx
    .update(finding)
    .set({ ignored })
    .where(and(among(finding.appearanceId, ids), eq(finding.rule, rule)));
  const own = among(appearance.id, ids);
  const pictures = tx.select({ id: appearance.pictureId }).from(appearance).where(own);
  await refreshPictures(tx, inArray(picture.id, pictures));
  // What was counted before is not true any more.
  await tx
    .update(collection)
    .set({ changes: sql`${collection.changes} + 1` })
    .where(inArray(collection.id, tx.select({ id: appearance.collectionId }).from(appearance).where(own)));
}
