import { and, desc, eq, inArray, isNull, not, sql, type SQL } from 'drizzle-orm';
import type { FieldAnswer, TextVersion } from '@/contract/desk';
import { wordsGroup } from '@/core/rules/audit';
import { isPlaceField, pageText, type PlaceField, type TextField } from '@/core/model/texts';
import { withTexts } from '@/core/model/wording';
import { fileNameOf } from '@/core/picture/file-name';
import { auditChanged } from '../audit/audit-changes';
import { announceChange } from '../changes';
import { among, insertRows, storable } from '../db/bulk';
import { collectionTransaction, type Queryable } from '../db/database';
import { appearance, fieldText, picture } from '../db/schema';

export interface KeptField {
  collectionId: string;
  field: TextField;
  pictureId: number;
  /** The places of the picture that a title or a caption is for; of no interest for what belongs to the picture. */
  places: readonly number[];
  /** `''` takes the text away; null gives back what the page or the file says. */
  text: string | null;
  /** Keeping again under the same act replaces what it kept. */
  act: string;
  /** The text that it was written from; without it, nothing is checked against. */
  base?: string;
  /** Earlier acts of whoever writes: texts that they saved are nobody else's. */
  after?: readonly string[];
}

/** Where a text goes, and what stands there now. */
interface Spot {
  pictureId: number;
  appearanceId: number | null;
  now: string;
}

/**
 * Keeps a text of a picture other than its alt text, and asks the rules again that depend on it. Of an unknown picture,
 * nothing is kept. At places where somebody has saved another text since the one that it was written from, theirs
 * stands; where that is so at all of them, this one is in the history only.
 */
export async function saveFieldText({
  collectionId,
  field,
  text,
  act,
  base,
  after = [],
  ...kept
}: KeptField): Promise<FieldAnswer> {
  const answer = await collectionTransaction(collectionId, async (tx) => {
    const spots = await spotsOf(tx, { collectionId, field, ...kept });
    if (spots.length === 0) return { theirs: null, places: 0 };
    const isFree = await freeSpots(tx, field, spots, { text, acts: [act, ...after], base });
    const free = spots.filter(isFree);
    const state = free.length > 0 ? ('accepted' as const) : ('undone' as const);
    const into = free.length > 0 ? free : spots.slice(0, 1);
    const replaced = await tx
      .delete(fieldText)
      .where(and(eq(fieldText.collectionId, collectionId), eq(fieldText.act, act), eq(fieldText.field, field)))
      .returning({ place: fieldText.appearanceId });
    // Places that the act leaves out now get back what they had before it.
    const places = [...new Set([...kept.places, ...replaced.flatMap((r) => r.place ?? [])])];
    await insertRows(
      tx,
      fieldText,
      into.map(({ pictureId, appearanceId }) => ({ collectionId, field, pictureId, appearanceId, text, act, state })),
    );
    await apply(tx, collectionId, field, [kept.pictureId], places);
    return { theirs: free.length > 0 ? null : spots[0]!.now, places: free.length };
  });
  announceChange({ collectionId, pictures: [kept.pictureId] });
  return answer;
}

async function spotsOf(
  tx: Queryable,
  { collectionId, field, pictureId, places }: Pick<KeptField, 'collectionId' | 'field' | 'pictureId' | 'places'>,
): Promise<Spot[]> {
  if (!isPlaceField(field)) {
    const own = and(eq(picture.id, pictureId), eq(picture.collectionId, collectionId));
    const [known] = await tx.select().from(picture).where(own);
    return known ? [{ pictureId, appearanceId: null, now: pictureText(known, field) }] : [];
  }
  const rows = await tx
    .select({ id: appearance.id, reading: appearance.reading, title: appearance.title, caption: appearance.caption })
    .from(appearance)
    .where(
      and(eq(appearance.collectionId, collectionId), eq(appearance.pictureId, pictureId), among(appearance.id, places)),
    );
  // The place that the editor looks at is named first.
  rows.sort((a, b) => places.indexOf(a.id) - places.indexOf(b.id));
  return rows.map((r) => ({ pictureId, appearanceId: r.id, now: r[field] ?? pageText(r.reading, field) }));
}

/** What a picture has in a field of its own now; `''` for nothing. */
export function pictureText(
  row: Pick<typeof picture.$inferSelect, 'longDescription' | 'fileName' | 'src'>,
  field: Exclude<TextField, PlaceField>,
): string {
  return field === 'long-description' ? (row.longDescription ?? '') : (row.fileName ?? fileNameOf(row.src ?? ''));
}

/** Tells the spots at which nobody else has saved another text since the one that this one was written from. */
async function freeSpots(
  tx: Queryable,
  field: TextField,
  spots: readonly Spot[],
  { text, acts, base }: { text: string | null; acts: readonly string[]; base: string | undefined },
): Promise<(spot: Spot) => boolean> {
  const late = spots.filter((s) => base !== undefined && s.now.trim() !== base.trim() && s.now !== text);
  const own = new Set<number | null>();
  for (const { pictureId, appearanceId } of late) {
    const [latest] = await tx
      .select({ act: fieldText.act })
      .from(fieldText)
      .where(and(...at(field, pictureId, appearanceId), eq(fieldText.state, 'accepted')))
      .orderBy(desc(fieldText.id))
      .limit(1);
    if (latest && acts.includes(latest.act)) own.add(appearanceId);
  }
  return (spot) => !late.includes(spot) || own.has(spot.appearanceId);
}

const at = (field: TextField, pictureId: number, appearanceId: number | null): SQL[] => [
  eq(fieldText.field, field),
  eq(fieldText.pictureId, pictureId),
  appearanceId === null ? isNull(fieldText.appearanceId) : eq(fieldText.appearanceId, appearanceId),
];

/** What undoing or redoing an act has changed. */
export interface TurnedFields {
  pictures: number[];
  places: number[];
}

/** Undoes or redoes the texts that were saved under an act. */
export async function turnFieldTexts(
  tx: Queryable,
  collectionId: string,
  act: string,
  direction: 'undo' | 'redo',
): Promise<TurnedFields> {
  const undo = direction === 'undo';
  const turned = await tx
    .update(fieldText)
    .set({ state: undo ? 'undone' : 'accepted', redoable: undo })
    .where(
      and(
        eq(fieldText.collectionId, collectionId),
        eq(fieldText.act, act),
        undo ? eq(fieldText.state, 'accepted') : eq(fieldText.redoable, true),
      ),
    )
    .returning({ field: fieldText.field, pictureId: fieldText.pictureId, appearanceId: fieldText.appearanceId });
  const places = turned.flatMap((t) => t.appearanceId ?? []);
  const pictures = [...new Set(turned.map((t) => t.pictureId))];
  for (const field of new Set(turned.map((t) => t.field))) await apply(tx, collectionId, field, pictures, places);
  return { pictures, places };
}

/** Every text that a picture, and the places that are asked about, were given in any field, the latest first. */
export async function fieldTextsOf(
  db: Queryable,
  pictureId: number,
  places: readonly number[],
): Promise<(TextVersion & { field: TextField; appearanceId: number | null })[]> {
  const rows = await db
    .select()
    .from(fieldText)
    .where(
      and(
        eq(fieldText.pictureId, pictureId),
        sql`(${isNull(fieldText.appearanceId)} or ${inArray(fieldText.appearanceId, [...places])})`,
      ),
    )
    .orderBy(desc(fieldText.id));
  return rows.map(({ id, field, appearanceId, text, by, state, act, at }) => ({
    ...{ id, field, appearanceId, text, by, state, act },
    at: at.toISOString(),
  }));
}

/** Makes the latest accepted text of a field the one that counts, at the pictures or at the places. */
async function apply(
  tx: Queryable,
  collectionId: string,
  field: TextField,
  pictures: readonly number[],
  places: readonly number[],
): Promise<void> {
  if (isPlaceField(field)) return applyAtPlaces(tx, collectionId, field, places);
  for (const id of pictures) {
    const [latest] = await tx
      .select({ text: fieldText.text })
      .from(fieldText)
      .where(and(...at(field, id, null), eq(fieldText.state, 'accepted')))
      .orderBy(desc(fieldText.id))
      .limit(1);
    const text = latest?.text ?? null;
    if (field === 'long-description')
      await tx
        .update(picture)
        .set({ longDescription: text?.trim() === '' ? '' : text })
        .where(eq(picture.id, id));
    else {
      const [row] = await tx.select({ src: picture.src }).from(picture).where(eq(picture.id, id));
      const fileName = text === '' || text === fileNameOf(row?.src ?? '') ? null : text;
      await tx.update(picture).set({ fileName }).where(eq(picture.id, id));
    }
  }
  if (pictures.length === 0) return;
  const own = await tx
    .select({ id: appearance.id })
    .from(appearance)
    .where(and(inArray(appearance.pictureId, [...pictures]), not(appearance.gone)));
  await auditChanged(
    tx,
    collectionId,
    own.map((p) => p.id),
    [],
  );
}

async function applyAtPlaces(
  tx: Queryable,
  collectionId: string,
  field: PlaceField,
  places: readonly number[],
): Promise<void> {
  const latest = sql<string | null>`(select t.text from field_text t where t.appearance_id = appearance.id
    and t.field = ${field} and t.state = 'accepted' order by t.id desc limit 1)`;
  const { id, reading, words, title, caption, wordsKey } = appearance;
  const rows = await tx
    .select({ id, reading, words, title, caption, wordsKey, latest })
    .from(appearance)
    .where(and(eq(appearance.collectionId, collectionId), among(appearance.id, places)));
  const now = rows.map((row) => {
    const text = row.latest === pageText(row.reading, field) ? null : row.latest;
    const shown = withTexts(row.reading, { ...row, [field]: text });
    return { id: row.id, text, state: shown.state, key: wordsGroup({ appearance: shown }) };
  });
  await tx.execute(sql`update ${appearance} set ${sql.identifier(field)} = r.text, state = r.state, words_key = r.key
    from json_to_recordset(${storable(now)}::json) as r(id int, text text, state text, key text)
    where ${appearance.id} = r.id`);
  const before = rows.flatMap((r) => r.wordsKey ?? []);
  await auditChanged(
    tx,
    collectionId,
    rows.map((r) => r.id),
    before,
  );
}
