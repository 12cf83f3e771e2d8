import { and, eq, inArray, sql } from 'drizzle-orm';
import { database, type Queryable } from '../db/database';
import { appearance, finding, picture, ignoredFinding } from '../db/schema';
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
  const db = await database();
  return db.transaction(async (tx) => {
    const found = await tx
      .selectDistinct({ id: finding.appearanceId })
      .from(finding)
      .where(
        and(
          eq(finding.collectionId, aside.collectionId),
          eq(finding.rule, aside.rule),
          eq(finding.ignored, false),
          inArray(finding.appearanceId, [...appearanceIds]),
        ),
      );
    const ids = found.map((f) => f.id);
    if (ids.length === 0) return 0;
    const contexts = await ruleContexts(tx, inArray(appearance.id, ids));
    await tx
      .insert(ignoredFinding)
      .values(contexts.map((context) => ({ ...aside, appearanceId: Number(context.id), basis: basisOf(context) })));
    await mark(tx, ids, aside.rule, true);
    return ids.length;
  });
}

/** Brings back what was set aside at appearances. */
export async function bringBack(collectionId: string, appearanceIds: readonly number[], rule: string): Promise<void> {
  const db = await database();
  await db.transaction(async (tx) => {
    await tx
      .delete(ignoredFinding)
      .where(
        and(
          eq(ignoredFinding.collectionId, collectionId),
          eq(ignoredFinding.rule, rule),
          inArray(ignoredFinding.appearanceId, [...appearanceIds]),
        ),
      );
    await mark(tx, appearanceIds, rule, false);
  });
}

/** Brings back everything that was set aside under one act; gives back at how many appearances. */
export async function restoreFindings(tx: Queryable, collectionId: string, act: string): Promise<number> {
  const undone = await tx
    .delete(ignoredFinding)
    .where(and(eq(ignoredFinding.collectionId, collectionId), eq(ignoredFinding.act, act)))
    .returning({ id: ignoredFinding.appearanceId, rule: ignoredFinding.rule });
  for (const rule of new Set(undone.map((u) => u.rule)))
    await mark(
      tx,
      undone.filter((u) => u.rule === rule).map((u) => u.id),
      rule,
      false,
    );
  return undone.length;
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
    .where(and(inArray(finding.appearanceId, [...ids]), eq(finding.rule, rule)));
  const pictures = tx
    .select({ id: appearance.pictureId })
    .from(appearance)
    .where(inArray(appearance.id, [...ids]));
  await refreshPictures(tx, inArray(picture.id, pictures));
}
