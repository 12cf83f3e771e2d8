import { and, eq, inArray, ne, sql, type SQL } from 'drizzle-orm';
import { refreshPictures } from '../audit/picture-counts';
import { among } from '../db/bulk';
import type { Queryable } from '../db/database';
import { appearance, picture, wording } from '../db/schema';

/** What a picture does at a place, and whether a person has said so. */
export interface SettledPurpose {
  purpose: string;
  settled: boolean;
}

export async function setPurpose(tx: Queryable, ids: readonly number[], now: SettledPurpose): Promise<void> {
  await tx
    .update(appearance)
    .set({ purpose: now.purpose, purposeSettled: now.settled })
    .where(among(appearance.id, ids));
}

/** Rejects wordings under an act that undo takes back; gives back the appearances they belong to. */
export async function closeWordings(tx: Queryable, which: SQL, act: string): Promise<number[]> {
  const closed = await tx
    .update(wording)
    .set({ closedFrom: sql`state`, closedAct: act, state: 'rejected' })
    .where(which)
    .returning({ id: wording.appearanceId });
  return closed.map((c) => c.id);
}

/** Appearances that are undone or redone in one transaction: others have to wait for it. */
export const PORTION = 400;

/** Only so many of some wordings, so that an act in very many places is undone in portions. */
const someOf = (which: SQL): SQL =>
  sql`${wording.id} in (select ${wording.id} from ${wording} where ${which} order by ${wording.id} limit ${PORTION})`;

/** Takes wordings of an act back, at most {@link PORTION}; gives back the appearances they belong to. */
export async function undoWordings(tx: Queryable, collectionId: string, act: string): Promise<number[]> {
  const own = await tx
    .update(wording)
    .set({ closedFrom: sql`state`, closedAct: act, state: 'undone' })
    .where(
      someOf(
        and(
          eq(wording.collectionId, collectionId),
          eq(wording.act, act),
          inArray(wording.state, ['accepted', 'draft', 'conflict']),
        )!,
      ),
    )
    .returning({ id: wording.appearanceId });
  const opened = await tx
    .update(wording)
    .set({ state: sql`closed_from` })
    .where(someOf(and(closedBy(collectionId, act), eq(wording.state, 'rejected'))!))
    .returning({ id: wording.appearanceId });
  return [...own, ...opened].map((r) => r.id);
}

/** Brings wordings of an act back that undoing it has taken, at most {@link PORTION}; gives back their appearances. */
export async function redoWordings(tx: Queryable, collectionId: string, act: string): Promise<number[]> {
  const own = await tx
    .update(wording)
    .set({ state: sql`closed_from`, closedAct: null, closedFrom: null, at: new Date() })
    .where(
      someOf(
        and(
          eq(wording.collectionId, collectionId),
          eq(wording.act, act),
          eq(wording.closedAct, act),
          eq(wording.state, 'undone'),
        )!,
      ),
    )
    .returning({ id: wording.appearanceId });
  const closed = await tx
    .update(wording)
    .set({ state: 'rejected' })
    .where(someOf(and(closedBy(collectionId, act), inArray(wording.state, ['draft', 'conflict']))!))
    .returning({ id: wording.appearanceId });
  return [...own, ...closed].map((r) => r.id);
}

/** What an act of another wording has rejected. */
const closedBy = (collectionId: string, act: string): SQL =>
  and(eq(wording.collectionId, collectionId), eq(wording.closedAct, act), ne(wording.act, act))!;

/** A picture, and at how many of the places that were asked about it stands. */
export interface TouchedPicture {
  id: number;
  places: number;
}

export async function picturesOf(tx: Queryable, ids: readonly number[]): Promise<TouchedPicture[]> {
  if (ids.length === 0) return [];
  return tx
    .select({ id: appearance.pictureId, places: sql`count(*)`.mapWith(Number) })
    .from(appearance)
    .where(among(appearance.id, ids))
    .groupBy(appearance.pictureId);
}

/** Brings the counts of the pictures at some places up to date. */
export async function refreshPicturesOf(tx: Queryable, ids: readonly number[]): Promise<TouchedPicture[]> {
  const touched = await picturesOf(tx, ids);
  if (touched.length > 0)
    await refreshPictures(
      tx,
      among(
        picture.id,
        touched.map((t) => t.id),
      ),
    );
  return touched;
}
