import { and, eq, inArray, or } from 'drizzle-orm';
import type { ListChange, UnknownRow } from '@/contract/lists';
import { groupBy } from '@/core/group-by';
import { DECORATIVE } from '@/core/lists/list-table';
import type { ReadRow } from '@/core/lists/read-list';
import { spoken } from '../catalogue/spoken';
import { among } from '../db/bulk';
import { database, type Queryable } from '../db/database';
import { appearance, page, picture, pictureSource, wording } from '../db/schema';

/** A change with the appearances that it is made at. */
export type Match = ListChange & { appearanceIds: number[] };

export interface Matched {
  changes: Match[];
  same: number;
  unknown: { row: number; why: UnknownRow }[];
  editedInAlt: number;
}

/** An appearance as a row finds it. */
interface Place {
  id: number;
  pictureId: number;
  path: string;
  src: string | null;
  address: string | null;
  /** What is heard there, as written; `''` where decorative, null where alt text is missing. */
  text: string | null;
  namesControl: boolean;
}

/** Rows that are matched in one query. */
const PORTION = 1000;
/** Other texts of a picture that a change names. */
const MOST_OTHERS = 5;

/**
 * Finds the places of each row: by the id of its appearance where the page fits, else by page and picture; of a row for a
 * picture, all of its places that say the same.
 */
export async function matchRows(collectionId: string, rows: readonly ReadRow[]): Promise<Matched> {
  const db = await database();
  const out: Matched = { changes: [], same: 0, unknown: [], editedInAlt: 0 };
  for (let from = 0; from < rows.length; from += PORTION)
    await matchSome(db, collectionId, rows.slice(from, from + PORTION), out);
  refuseTwice(out);
  return out;
}

async function matchSome(db: Queryable, collectionId: string, rows: readonly ReadRow[], out: Matched): Promise<void> {
  const byId = new Map((await placesById(db, collectionId, rows)).map((p) => [p.id, p]));
  const byPage = groupBy(await placesByPage(db, collectionId, rows), (p) => p.path);
  const found = rows.map((row) => ({ row, place: placeOf(row, byId, byPage) }));
  const pictures = found.flatMap(({ row, place }) =>
    row.isForPicture && typeof place === 'object' ? place.pictureId : [],
  );
  const byPicture = groupBy(await placesOfPictures(db, collectionId, pictures), (p) => p.pictureId);
  const former = await formerTexts(
    db,
    found.flatMap(({ row, place }) =>
      typeof place === 'object' && (row.isFromAlt || isEdited(row, place)) ? place.id : [],
    ),
  );
  for (const { row, place } of found) {
    if (row.fault) out.unknown.push({ row: row.row, why: row.fault });
    else if (row.newAlt === '') {
      out.same++;
      if (typeof place === 'object' && isEdited(row, place) && !former.get(place.id)?.has(words(row.alt!)))
        out.editedInAlt++;
    } else if (typeof place === 'object' && row.isFromAlt && former.get(place.id)?.has(words(row.newAlt))) out.same++;
    else if (typeof place === 'string') out.unknown.push({ row: row.row, why: place });
    else addChange(out, row, place, row.isForPicture ? (byPicture.get(place.pictureId) ?? [place]) : [place]);
  }
}

const words = (text: string): string => text.replace(/\s+/g, ' ').trim();
const isSame = (a: string | null, b: string | null): boolean =>
  a === null || b === null ? a === b : words(a) === words(b);

/** Whether a row shows another text than there is, and none that is to come. */
const isEdited = ({ alt, newAlt }: ReadRow, { text }: Place): boolean =>
  newAlt === '' && alt !== null && words(alt) !== '' && words(alt) !== words(text ?? '');

function placeOf(
  row: ReadRow,
  byId: ReadonlyMap<number, Place>,
  byPage: ReadonlyMap<string, Place[]>,
): Place | UnknownRow {
  const own = row.appearance === null ? undefined : byId.get(row.appearance);
  // An id of another collection may be one of this one too; the page tells them apart.
  if (own && (row.page === '' || row.page === own.path)) return own;
  if (row.page === '' || row.picture === '') return row.appearance === null ? 'no-key' : 'not-found';
  const there = byPage.get(row.page) ?? [];
  const shown = there.filter((p) => p.src === row.picture || p.address === row.picture);
  // A row for a picture is for all of its places on the page that say the same.
  const fitting = row.isForPicture && row.alt !== null ? shown.filter((p) => isSame(p.text ?? '', row.alt)) : shown;
  const ids = new Set((fitting.length > 0 ? fitting : shown).map((p) => p.id));
  if (ids.size > 1 && !row.isForPicture) return 'several';
  return there.find((p) => ids.has(p.id)) ?? 'not-found';
}

function addChange(out: Matched, row: ReadRow, place: Place, all: readonly Place[]): void {
  const after = row.newAlt === DECORATIVE ? '' : row.newAlt;
  if (after === place.text) {
    out.same++;
    return;
  }
  const alike = all.filter((p) => isSame(p.text, place.text));
  const taking = alike.filter((p) => after !== '' || !p.namesControl);
  if (taking.length === 0) {
    out.unknown.push({ row: row.row, why: 'names-control' });
    return;
  }
  const others = groupBy(
    all.filter((p) => !taking.includes(p)),
    (p) => p.text,
  );
  out.changes.push({
    row: row.row,
    appearanceIds: [...new Set(taking.map((p) => p.id))],
    picture: place.src ?? row.picture,
    page: place.path,
    before: place.text,
    after,
    madeWith: row.alt !== null && words(row.alt) !== words(place.text ?? '') ? row.alt : null,
    places: new Set(taking.map((p) => p.id)).size,
    others: [...others].slice(0, MOST_OTHERS).map(([text, own]) => ({ text, places: own.length })),
  });
}

/** Rows that ask for different texts at one place are all refused; those that ask for the same are one. */
function refuseTwice(out: Matched): void {
  const asked = new Map<number, Match>();
  const refused = new Set<Match>();
  const again = new Set<Match>();
  for (const change of out.changes)
    for (const id of change.appearanceIds) {
      const first = asked.get(id);
      if (!first) asked.set(id, change);
      else if (first.after !== change.after) refused.add(first).add(change);
      else again.add(change);
    }
  out.unknown.push(...[...refused].map(({ row }) => ({ row, why: 'twice' as const })));
  out.unknown.sort((a, b) => a.row - b.row);
  out.same += [...again].filter((c) => !refused.has(c)).length;
  out.changes = out.changes.filter((c) => !refused.has(c) && !again.has(c));
}

const COLUMNS = {
  id: appearance.id,
  pictureId: appearance.pictureId,
  path: page.path,
  src: picture.src,
  text: spoken.as('text'),
  control: appearance.reading,
};

function placesWhere(db: Queryable, where: ReturnType<typeof and>): Promise<Place[]> {
  return db
    .select({ ...COLUMNS, address: pictureSource.address })
    .from(appearance)
    .innerJoin(page, eq(page.id, appearance.pageId))
    .innerJoin(picture, eq(picture.id, appearance.pictureId))
    .leftJoin(pictureSource, eq(pictureSource.pictureId, picture.id))
    .where(and(eq(appearance.gone, false), where))
    .orderBy(appearance.id)
    .then((rows) =>
      rows.map(({ control, ...row }) => ({ ...row, namesControl: control.context.control?.text === '' })),
    );
}

function placesById(db: Queryable, collectionId: string, rows: readonly ReadRow[]): Promise<Place[]> {
  const ids = rows.flatMap((r) => r.appearance ?? []);
  return placesWhere(db, and(eq(appearance.collectionId, collectionId), among(appearance.id, ids)));
}

async function placesByPage(db: Queryable, collectionId: string, rows: readonly ReadRow[]): Promise<Place[]> {
  const asked = rows.filter((r) => r.page !== '' && r.picture !== '');
  if (asked.length === 0) return [];
  const paths = [...new Set(asked.map((r) => r.page))];
  const pictures = [...new Set(asked.map((r) => r.picture))];
  return placesWhere(
    db,
    and(
      eq(appearance.collectionId, collectionId),
      inArray(page.path, paths),
      or(inArray(picture.src, pictures), inArray(pictureSource.address, pictures)),
    ),
  );
}

async function placesOfPictures(db: Queryable, collectionId: string, ids: readonly number[]): Promise<Place[]> {
  if (ids.length === 0) return [];
  const rows = await placesWhere(db, and(eq(appearance.collectionId, collectionId), among(appearance.pictureId, ids)));
  // A picture with several addresses comes once for each.
  return [...new Map(rows.map((r) => [r.id, r])).values()];
}

/** The texts that places have had, by place: those of their history, and the page's own. */
async function formerTexts(db: Queryable, ids: readonly number[]): Promise<Map<number, Set<string>>> {
  const out = new Map<number, Set<string>>(ids.map((id) => [id, new Set()]));
  if (ids.length === 0) return out;
  const kept = await db
    .select({ id: wording.appearanceId, text: wording.text })
    .from(wording)
    .where(among(wording.appearanceId, ids));
  const found = await db
    .select({ id: appearance.id, reading: appearance.reading })
    .from(appearance)
    .where(among(appearance.id, ids));
  for (const { id, text } of kept) if (text !== null) out.get(id)?.add(words(text));
  for (const { id, reading } of found) out.get(id)?.add(words(reading.accessible.name));
  return out;
}
