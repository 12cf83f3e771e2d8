import { and, desc, eq, inArray } from 'drizzle-orm';
import type { LongText } from '@/contract/desk';
import { auditChanged } from '../audit/audit-changes';
import { announceChange } from '../changes';
import { database, type Queryable } from '../db/database';
import { appearance, longDescription, picture } from '../db/schema';

export interface KeptLong {
  collectionId: string;
  pictureId: number;
  /** CommonMark; `''` takes it away. */
  text: string;
  /** Keeping again under the same act replaces what it kept. */
  act: string;
  /** The text that it was written from; without it, nothing is checked against. */
  base?: string;
}

/**
 * Keeps the long description of a picture, and asks the rules again that depend on it. Of an unknown picture, nothing is
 * kept.
 *
 * @returns what somebody else has saved since the text that this one was written from, which stands then, while this one
 * is in the history; null when it was kept
 */
export async function saveLongDescription({
  collectionId,
  pictureId,
  text,
  act,
  base,
}: KeptLong): Promise<string | null> {
  const db = await database();
  const answer = await db.transaction(async (tx) => {
    const own = and(eq(picture.id, pictureId), eq(picture.collectionId, collectionId));
    const [known] = await tx.select({ id: picture.id, text: picture.longDescription }).from(picture).where(own);
    if (!known) return null;
    const theirs = await savedSince(tx, pictureId, known.text ?? '', { text, act, base });
    const state = theirs === null ? ('accepted' as const) : ('undone' as const);
    const replaced = await tx
      .update(longDescription)
      .set({ text, state, at: new Date() })
      .where(and(eq(longDescription.pictureId, pictureId), eq(longDescription.act, act)))
      .returning({ id: longDescription.id });
    if (replaced.length === 0) await tx.insert(longDescription).values({ collectionId, pictureId, text, act, state });
    await apply(tx, collectionId, [pictureId]);
    return theirs;
  });
  announceChange({ collectionId, pictures: [pictureId] });
  return answer;
}

/** The text that stands, where it is neither what was written from nor the writer's own. */
async function savedSince(
  tx: Queryable,
  pictureId: number,
  now: string,
  { text, act, base }: Pick<KeptLong, 'text' | 'act' | 'base'>,
): Promise<string | null> {
  if (base === undefined || now.trim() === base.trim() || now === text) return null;
  const [latest] = await tx
    .select({ act: longDescription.act })
    .from(longDescription)
    .where(and(eq(longDescription.pictureId, pictureId), eq(longDescription.state, 'accepted')))
    .orderBy(desc(longDescription.id))
    .limit(1);
  return latest?.act === act ? null : now;
}

/** Undoes or redoes the long descriptions that were saved under an act; gives back of which pictures. */
export async function turnLongDescription(
  tx: Queryable,
  collectionId: string,
  act: string,
  direction: 'undo' | 'redo',
): Promise<number[]> {
  const undo = direction === 'undo';
  const turned = await tx
    .update(longDescription)
    .set({ state: undo ? 'undone' : 'accepted', redoable: undo })
    .where(
      and(
        eq(longDescription.collectionId, collectionId),
        eq(longDescription.act, act),
        undo ? eq(longDescription.state, 'accepted') : eq(longDescription.redoable, true),
      ),
    )
    .returning({ pictureId: longDescription.pictureId });
  const pictures = [...new Set(turned.map((u) => u.pictureId))];
  await apply(tx, collectionId, pictures);
  return pictures;
}

/** Every long description that a picture was given, the latest first. */
export async function longDescriptionsOf(db: Queryable, pictureId: number): Promise<LongText[]> {
  const rows = await db
    .select()
    .from(longDescription)
    .where(eq(longDescription.pictureId, pictureId))
    .orderBy(desc(longDescription.id));
  return rows.map(({ id, text, state, act, at }) => ({ id, text, state, act, at: at.toISOString() }));
}

/** Makes the latest accepted one of each picture the one that counts. */
async function apply(tx: Queryable, collectionId: string, pictureIds: readonly number[]): Promise<void> {
  for (const pictureId of pictureIds) {
    const [latest] = await tx
      .select({ text: longDescription.text })
      .from(longDescription)
      .where(and(eq(longDescription.pictureId, pictureId), eq(longDescription.state, 'accepted')))
      .orderBy(desc(longDescription.id))
      .limit(1);
    const kept = latest?.text.trim() ? latest.text : null;
    await tx.update(picture).set({ longDescription: kept }).where(eq(picture.id, pictureId));
  }
  if (pictureIds.length === 0) return;
  const places = await tx
    .select({ id: appearance.id })
    .from(appearance)
    .where(and(inArray(appearance.pictureId, [...pictureIds]), eq(appearance.gone, false)));
  await auditChanged(
    tx,
    collectionId,
    places.map((p) => p.id),
    [],
  );
}
