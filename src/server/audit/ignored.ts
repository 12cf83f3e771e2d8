import { and, eq, inArray, sql } from 'drizzle-orm';
import { database, type Queryable } from '../db/database';
import { appearance, finding, picture, setAside } from '../db/schema';
import { basisOf, spotsWhere } from './audit';
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
export async function setFindingsAside({ appearanceIds, ...aside }: Aside): Promise<number> {
  const db = await database();
  return db.transaction(async (tx) => {
    const found = await tx
      .selectDistinct({ id: finding.appearanceId })
      .from(finding)
      .where(
        and(
          eq(finding.collectionId, aside.collectionId),
          eq(finding.rule, aside.rule),
          eq(finding.aside, false),
          inArray(finding.appearanceId, [...appearanceIds]),
        ),
      );
    const ids = found.map((f) => f.id);
    if (ids.length === 0) return 0;
    const spots = await spotsWhere(tx, inArray(appearance.id, ids));
    await tx
      .insert(setAside)
      .values(spots.map((spot) => ({ ...aside, appearanceId: Number(spot.id), basis: basisOf(spot) })));
    await mark(tx, ids, aside.rule, true);
    return ids.length;
  });
}

/** Brings back what was set aside at appearances. */
export async function bringBack(collectionId: string, appearanceIds: readonly number[], rule: string): Promise<void> {
  const db = await database();
  await db.transaction(async (tx) => {
    await tx
      .delete(setAside)
      .where(
        and(
          eq(setAside.collectionId, collectionId),
          eq(setAside.rule, rule),
          inArray(setAside.appearanceId, [...appearanceIds]),
        ),
      );
    await mark(tx, appearanceIds, rule, false);
  });
}

/** Brings back everything that was set aside under one act; gives back at how many appearances. */
export async function undoAside(tx: Queryable, collectionId: string, act: string): Promise<number> {
  const undone = await tx
    .delete(setAside)
    .where(and(eq(setAside.collectionId, collectionId), eq(setAside.act, act)))
    .returning({ id: setAside.appearanceId, rule: setAside.rule });
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
export async function asidesOf(collectionId: string, rule: string): Promise<number> {
  const db = await database();
  const [row] = await db
    .select({ n: sql`count(*)`.mapWith(Number) })
    .from(finding)
    .where(and(eq(finding.collectionId, collectionId), eq(finding.rule, rule), eq(finding.aside, true)));
  return row!.n;
}

async function mark(tx: Queryable, ids: readonly number[], rule: string, aside: boolean): Promise<void> {
  await tx
    .update(finding)
    .set({ aside })
    .where(and(inArray(finding.appearanceId, [...ids]), eq(finding.rule, rule)));
  const pictures = tx
    .select({ id: appearance.pictureId })
    .from(appearance)
    .where(inArray(appearance.id, [...ids]));
  await refreshPictures(tx, inArray(picture.id, pictures));
}
