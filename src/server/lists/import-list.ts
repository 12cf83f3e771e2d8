import { and, eq, inArray, or } from 'drizzle-orm';
import type { ListChange, ListPreview, UnknownRow } from '@/contract/lists';
import type { BulkState } from '@/contract/bulk';
import { groupBy } from '@/core/group-by';
import { startTexts } from '../bulk/bulk';
import { heard } from '../catalogue/lines';
import { among } from '../db/bulk';
import { database, type Queryable } from '../db/database';
import { appearance, page, picture, pictureSource } from '../db/schema';
import { DECORATIVE } from './list-table';
import type { ReadRow } from './read-list';

/** Changes and rows that a preview lists. */
const SHOWN = 300;
/** Rows that are matched in one query. */
const PORTION = 1000;

type Match = ListChange & { appearanceId: number };

interface Matched {
  changes: Match[];
  same: number;
  unknown: { row: number; why: UnknownRow }[];
}

interface Place {
  id: number;
  path: string;
  src: string | null;
  address: string | null;
  state: 'described' | 'decorative' | 'missing';
  text: string | null;
  namesControl: boolean;
}

/** Finds the place of each row: by the id of its appearance where the page fits, else by page and picture. */
async function match(collectionId: string, rows: readonly ReadRow[]): Promise<Matched> {
  const db = await database();
  const out: Matched = { changes: [], same: 0, unknown: [] };
  for (let from = 0; from < rows.length; from += PORTION) {
    const some = rows.slice(from, from + PORTION);
    const byId = new Map((await placesById(db, collectionId, some)).map((p) => [p.id, p]));
    const byPage = groupBy(await placesByPage(db, collectionId, some), (p) => p.path);
    for (const row of some) {
      if (row.newAlt === '') {
        out.same++;
        continue;
      }
      const found = placeOf(row, byId, byPage);
      if (typeof found === 'string') out.unknown.push({ row: row.row, why: found });
      else addChange(out, row, found);
    }
  }
  return out;
}

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
  const ids = new Set(there.filter((p) => p.src === row.picture || p.address === row.picture).map((p) => p.id));
  if (ids.size > 1) return 'several';
  return there.find((p) => ids.has(p.id)) ?? 'not-found';
}

function addChange(out: Matched, row: ReadRow, place: Place): void {
  const after = row.newAlt === DECORATIVE ? '' : row.newAlt;
  if (after === place.text) {
    out.same++;
    return;
  }
  if (after === '' && place.namesControl) {
    out.unknown.push({ row: row.row, why: 'names-control' });
    return;
  }
  const madeWith = row.alt !== null && row.alt.trim() !== (place.text ?? '').trim() ? row.alt : null;
  out.changes.push({
    row: row.row,
    appearanceId: place.id,
    picture: place.src ?? row.picture,
    page: place.path,
    before: place.text,
    after,
    madeWith,
  });
}

const COLUMNS = {
  id: appearance.id,
  path: page.path,
  src: picture.src,
  address: pictureSource.address,
  state: appearance.state,
  reading: appearance.reading,
  words: appearance.words,
};

function placesWhere(db: Queryable, where: ReturnType<typeof and>) {
  return db
    .select(COLUMNS)
    .from(appearance)
    .innerJoin(page, eq(page.id, appearance.pageId))
    .innerJoin(picture, eq(picture.id, appearance.pictureId))
    .leftJoin(pictureSource, eq(pictureSource.pictureId, picture.id))
    .where(and(eq(appearance.gone, false), where))
    .then((rows) =>
      rows.map(({ reading, words, ...row }): Place => ({
        ...row,
        text: row.state === 'missing' ? null : row.state === 'decorative' ? '' : heard(reading, words),
        namesControl: reading.context.control?.text === '',
      })),
    );
}

function placesById(db: Queryable, collectionId: string, rows: readonly ReadRow[]): Promise<Place[]> {
  const ids = rows.flatMap((r) => r.appearance ?? []);
  return placesWhere(db, and(eq(appearance.collectionId, collectionId), among(appearance.id, ids)));
}

async function placesByPage(db: Queryable, collectionId: string, rows: readonly ReadRow[]): Promise<Place[]> {
  const asked = rows.filter((r) => r.newAlt !== '' && r.page !== '' && r.picture !== '');
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

/** What a list would change. */
export async function previewList(collectionId: string, rows: readonly ReadRow[]): Promise<ListPreview> {
  const { changes, same, unknown } = await match(collectionId, rows);
  const conflicts = changes.filter((c) => c.madeWith !== null);
  const others = changes.filter((c) => c.madeWith === null);
  return {
    changes: [...conflicts, ...others].slice(0, SHOWN).map(({ appearanceId: _, ...change }) => change),
    total: others.length,
    conflicts: conflicts.length,
    same,
    unknown: unknown.slice(0, SHOWN),
    unknownTotal: unknown.length,
  };
}

/**
 * Saves the new texts of a list, under one act that can be undone.
 *
 * @param take rows whose change is made although their text has changed here since the list was made
 * @param leave rows whose change is not made
 * @param source of texts that are only left as drafts, the name of the list; null to save them
 */
export async function saveList(
  collectionId: string,
  rows: readonly ReadRow[],
  act: string,
  take: ReadonlySet<number>,
  leave: ReadonlySet<number>,
  source: string | null,
): Promise<BulkState> {
  const { changes } = await match(collectionId, rows);
  const wanted = changes.filter((c) => (c.madeWith === null ? !leave.has(c.row) : take.has(c.row)));
  return startTexts(
    collectionId,
    wanted.map((c) => ({ appearanceId: c.appearanceId, text: c.after })),
    act,
    source,
  );
}
