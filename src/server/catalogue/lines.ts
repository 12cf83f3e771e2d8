import type { Message } from '@/core/model/message';
import { withTexts } from '@/core/model/wording';
import { pageOrder } from './page-order';
import { fileName } from './picture-files';
import { and, desc, eq, getTableColumns, inArray, sql, type SQL } from 'drizzle-orm';
import type { GalleyView, Line, LineGroup, LineNote, Lines, LineText } from '@/contract/galley';
import { placeName } from '@/core/brief/roll-ups';
import { groupBy } from '@/core/group-by';
import { ownTitle } from '@/core/words/page-title';
import { SURE } from '@/core/model/picture-analysis';
import { isDocumentObject, type AppearanceElement, type Purpose, type Appearance } from '@/core/model/appearance';
import { isNumbered } from '@/core/model/held-address';
import type { SubsumedFinding } from '@/core/model/finding';
import { database, type Queryable } from '../db/database';
import { appearance, collection, conflict, finding, page, picture, wording } from '../db/schema';
import { thumbOf } from './picture-rows';
import { conditions, hasWords, order, placeConditions, placeOrder, showsPlaces } from './views';

/** What a line shows: all but what is large and read at the Desk only. */
const { details: _s, fingerprint: _l, recognition: _i, search: _q, colours: _c, ...LISTED } = getTableColumns(picture);
type ListedRow = Pick<typeof picture.$inferSelect, keyof typeof LISTED>;

/** A window of the Galley's lines. */
export async function galleyLines(
  collectionId: string,
  view: GalleyView,
  offset: number,
  limit: number,
): Promise<Lines> {
  const db = await database();
  const where = conditions(collectionId, view);
  const places = showsPlaces(view);
  // With the count, before the lines: what is saved in between is newer than they are.
  const state = {
    n: sql`count(*)`.mapWith(Number),
    revision: sql`(select revision from ${collection} where id = ${collectionId})`.mapWith(Number),
    clashes: sql<boolean>`exists (select 1 from ${conflict} k where k.collection_id = ${collectionId} and k.settled_at is null)`,
  };
  const [count] = places
    ? await db
        .select(state)
        .from(appearance)
        .innerJoin(picture, eq(picture.id, appearance.pictureId))
        .where(and(where, placeConditions(view)))
    : await db.select(state).from(picture).where(where);
  const { n: total, ...known } = count!;
  const size = Math.min(limit, total - offset);
  if (size <= 0) return { total, lines: [] };
  if (places) {
    const rows = await db
      .select({ ...LISTED, shownId: sql`${appearance.id}`.mapWith(Number).as('shown_id') })
      .from(appearance)
      .innerJoin(picture, eq(picture.id, appearance.pictureId))
      .innerJoin(page, eq(page.id, appearance.pageId))
      .where(and(where, placeConditions(view)))
      .orderBy(...placeOrder(view))
      .limit(size)
      .offset(offset);
    const ids = rows.map((r) => r.shownId);
    const shown = await shownAppearances(db, inArray(appearance.id, ids));
    const byId = new Map(shown.map((a) => [a.id, a]));
    const notes = await placeNotes(db, ids);
    const drafts = await draftsOf(db, inArray(appearance.id, ids));
    const lines = rows.flatMap((row) => {
      const a = byId.get(row.shownId);
      if (!a) return [];
      const draft = drafts.find((d) => d.appearanceId === a.id)?.text ?? null;
      const own = notes.filter((n) => n.appearanceId === a.id);
      return [toLine(row, a, { view, draft, notes: own, conflict: a.conflict, revision: known.revision })];
    });
    return { total, lines };
  }
  // What is nearer to the end is reached from there.
  const backwards = offset > total / 2;
  const rows = await db
    .select(LISTED)
    .from(picture)
    .where(where)
    .orderBy(...order(view, backwards))
    .limit(size)
    .offset(backwards ? total - offset - size : offset);
  return { total, lines: await pictureLines(backwards ? rows.reverse() : rows, view, known.revision) };
}

async function pictureLines(rows: ListedRow[], view: GalleyView, revision: number): Promise<Line[]> {
  const db = await database();
  const ids = rows.map((r) => r.id);
  const ofPictures = inArray(appearance.pictureId, ids);
  const shown = new Map((await shownAppearances(db, ofPictures, view)).map((a) => [a.pictureId, a]));
  const notes = await notesOf(
    db,
    ids,
    [...shown.values()].map((a) => a.id),
  );
  const drafts = new Map((await draftsOf(db, ofPictures)).map((d) => [d.pictureId, d.text]));
  const several = rows.filter((p) => p.appearances > 1).map((p) => p.id);
  const texts = several.length === 0 ? new Map<number, Texts>() : await textsOf(db, several, shown, view.q);
  return rows.flatMap((p) => {
    const a = shown.get(p.id);
    if (!a) return [];
    const own = notes.filter((n) => n.pictureId === p.id);
    const known = { view, draft: drafts.get(p.id) ?? null, notes: own, conflict: a.conflict, revision };
    return [toLine(p, a, { ...known, ...texts.get(p.id) })];
  });
}

/** Texts of a picture that its line names besides the one that it shows. */
const TEXTS = 3;

type Texts = Pick<Line, 'places' | 'texts' | 'textsTotal'>;

/** What pictures say at all of their places, each different thing once. */
async function textsOf(
  db: Queryable,
  pictureIds: readonly number[],
  shown: ReadonlyMap<number, { id: number; state: string; wordsKey: string | null }>,
  q: string,
): Promise<Map<number, Texts>> {
  const groups = await db
    .select({
      pictureId: appearance.pictureId,
      state: appearance.state,
      key: appearance.wordsKey,
      first: sql`min(${appearance.id})`.mapWith(Number),
      places: sql`count(*)`.mapWith(Number),
    })
    .from(appearance)
    .where(and(inArray(appearance.pictureId, [...pictureIds]), eq(appearance.gone, false)))
    .groupBy(appearance.pictureId, appearance.state, appearance.wordsKey)
    .orderBy(
      ...[hasWords(appearance.wordsKey, q)].flatMap((searched) => (searched ? [sql`${searched} desc nulls last`] : [])),
      sql`count(*) desc`,
      sql`min(${appearance.id})`,
    );
  const all = groupBy(groups, (g) => g.pictureId);
  const listed = [...all].map(([pictureId, own]) => {
    const a = shown.get(pictureId);
    const isShown = (g: (typeof groups)[number]) => g.state === a?.state && g.key === a.wordsKey;
    return {
      pictureId,
      places: own.find(isShown)?.places ?? 1,
      others: own.filter((g) => !isShown(g)).slice(0, TEXTS),
      textsTotal: own.length,
    };
  });
  const ids = listed.flatMap((l) => l.others.map((g) => g.first));
  const readings = ids.length === 0 ? [] : await shownAppearances(db, inArray(appearance.id, ids));
  const byId = new Map(readings.map((a) => [a.id, a]));
  return new Map(
    listed.map(({ pictureId, places, others, textsTotal }) => [
      pictureId,
      {
        places,
        textsTotal,
        texts: others.flatMap(({ first, state, places: at }): LineText[] => {
          const a = byId.get(first);
          if (!a) return [];
          const lang = a.reading.context.lang ?? a.lang;
          return [{ appearanceId: first, state, heard: heard(a.reading, a.words, a.title), lang, places: at }];
        }),
      },
    ]),
  );
}

/** The latest draft that waits at each appearance, those of one picture together. */
function draftsOf(db: Queryable, which: SQL) {
  return db
    .selectDistinctOn([wording.appearanceId], {
      appearanceId: wording.appearanceId,
      pictureId: appearance.pictureId,
      text: wording.text,
    })
    .from(wording)
    .innerJoin(appearance, eq(appearance.id, wording.appearanceId))
    .where(and(which, eq(appearance.gone, false), eq(wording.state, 'draft')))
    .orderBy(wording.appearanceId, desc(wording.id));
}

interface Known {
  view: GalleyView;
  draft: string | null;
  notes: readonly FoundNote[];
  conflict: boolean;
  revision: number;
}

function toLine(p: ListedRow, a: ShownAppearance, known: Known & Partial<Texts>): Line {
  const { view, draft, notes, conflict, revision, places = 1, texts = [], textsTotal = 1 } = known;
  return {
    id: p.id,
    group: groupOf(p, a, view),
    isPlace: showsPlaces(view),
    thumb: thumbOf(p),
    name: nameOf(p, a.reading),
    type: p.type,
    bytes: p.bytes,
    width: p.width,
    height: p.height,
    broken: p.broken,
    kind: p.kindSure >= SURE ? p.kind : null,
    similarGroup: p.similarGroup === null ? null : { id: p.similarGroup, size: p.similarCount },
    reason: p.urgencyReason,
    reach: p.reach,
    appearances: p.appearances,
    appearanceId: a.id,
    state: a.state,
    heard: heard(a.reading, a.words, a.title),
    places,
    texts,
    textsTotal,
    lang: a.reading.context.lang ?? a.lang,
    purpose: purposeNow(a),
    page: a.page || a.path,
    worded: a.words !== null,
    draft,
    conflict,
    revision,
    notes: notes.map((n) => toNote(n, a.id)),
  };
}

function groupOf(p: ListedRow, a: ShownAppearance, view: GalleyView): LineGroup | null {
  switch (view.group) {
    case 'picture':
      return null;
    case 'alike':
      return {
        kind: 'alike',
        key: String(p.similarGroup ?? `alone ${p.id}`),
        label: p.similarGroup === null ? '' : String(p.similarCount),
      };
    case 'page':
      return { kind: 'page', key: String(a.pageId), label: ownTitle(a.page) || a.path };
    case 'place':
      return { kind: 'place', key: a.place, label: placeName(a.place) ?? '' };
  }
}

type ShownAppearance = Awaited<ReturnType<typeof shownAppearances>>[number];

/** Appearances as lines show them; of a view's pictures one each: one that it asks or searches for, then the worst, then the first. */
export function shownAppearances(db: Queryable, which: SQL, view?: GalleyView) {
  const columns = {
    id: appearance.id,
    pictureId: appearance.pictureId,
    pageId: appearance.pageId,
    place: appearance.place,
    reading: appearance.reading,
    words: appearance.words,
    title: appearance.title,
    caption: appearance.caption,
    state: appearance.state,
    wordsKey: appearance.wordsKey,
    purpose: appearance.purpose,
    purposeSettled: appearance.purposeSettled,
    page: page.title,
    path: page.path,
    lang: page.lang,
    // At one of the picture's places, or at this one where lines are places.
    conflict: sql<boolean>`exists (select from ${conflict} k join ${appearance} x on x.id = k.appearance_id
      where k.settled_at is null and not x.gone and ${view ? sql`x.picture_id = ${appearance.pictureId}` : sql`x.id = ${appearance.id}`})`,
  };
  const present = and(which, eq(appearance.gone, false));
  if (!view) return db.select(columns).from(appearance).innerJoin(page, eq(page.id, appearance.pageId)).where(present);
  const worst = sql`(select min(case when rule = ${view.rule} then -1 when outcome = 'failed' then 0 when outcome = 'cantTell' then 1 else 2 end)
    from ${finding} f where f.appearance_id = ${appearance.id} and not f.ignored)`;
  return db
    .selectDistinctOn([appearance.pictureId], columns)
    .from(appearance)
    .innerJoin(page, eq(page.id, appearance.pageId))
    .where(present)
    .orderBy(
      appearance.pictureId,
      ...(view.page > 0 ? [sql`${appearance.pageId} <> ${view.page}`] : []),
      ...[hasWords(appearance.wordsKey, view.q)].flatMap((found) => (found ? [sql`${found} desc nulls last`] : [])),
      ...(view.state === 'missing' ? [sql`${appearance.state} <> 'missing'`] : []),
      sql`${worst} nulls last`,
      pageOrder,
      appearance.position,
    );
}

type FoundNote = Awaited<ReturnType<typeof notesOf>>[number];

/** What the rules found at each of some places, the gravest first. */
export async function placeNotes(db: Queryable, ids: readonly number[]): Promise<FoundNote[]> {
  const rows = await db
    .select()
    .from(finding)
    .where(and(inArray(finding.appearanceId, [...ids]), eq(finding.ignored, false)))
    .orderBy(sql`case ${finding.outcome} when 'failed' then 0 when 'cantTell' then 1 else 2 end`, finding.id);
  return rows.map((row) => ({ ...row, places: 1 }));
}

/** One finding for each picture and rule, the gravest first: the shown appearance's, else the first; with how many there are. */
export function notesOf(db: Queryable, pictureIds: readonly number[], shownIds: readonly number[]) {
  const places = db
    .select({
      pictureId: finding.pictureId,
      rule: finding.rule,
      n: sql`count(*)`.mapWith(Number).as('n'),
      // What goes with it may be found in some of its places only.
      together: sql<
        SubsumedFinding[]
      >`(array_agg(${finding.also} order by jsonb_array_length(${finding.also}) desc))[1]`.as('together'),
    })
    .from(finding)
    .where(and(inArray(finding.pictureId, [...pictureIds]), eq(finding.ignored, false)))
    .groupBy(finding.pictureId, finding.rule)
    .as('places');
  const one = db
    .selectDistinctOn([finding.pictureId, finding.rule])
    .from(finding)
    .where(and(inArray(finding.pictureId, [...pictureIds]), eq(finding.ignored, false)))
    .orderBy(finding.pictureId, finding.rule, sql`${inArray(finding.appearanceId, [...shownIds])} desc`, finding.id)
    .as('one');
  return db
    .select({
      pictureId: one.pictureId,
      appearanceId: one.appearanceId,
      rule: one.rule,
      outcome: one.outcome,
      message: one.message,
      spanStart: one.spanStart,
      spanEnd: one.spanEnd,
      fixes: one.fixes,
      also: places.together,
      places: places.n,
    })
    .from(one)
    .innerJoin(places, and(eq(places.pictureId, one.pictureId), eq(places.rule, one.rule)))
    .orderBy(sql`case ${one.outcome} when 'failed' then 0 when 'cantTell' then 1 else 2 end`, one.id);
}

function toNote(n: FoundNote, shown: number): LineNote {
  const { rule, outcome, message, fixes, also, places } = n;
  const span = n.appearanceId === shown && n.spanStart !== null ? { start: n.spanStart, end: n.spanEnd! } : null;
  return { rule, outcome, message, fixes, also, places, span };
}

/** What a picture does by now: who marks it decorative has said so, unless somebody has set another purpose. */
export function purposeNow(a: { purpose: string; purposeSettled: boolean; words: string | null }): Purpose {
  return a.words === '' && !a.purposeSettled ? 'decorative' : (a.purpose as Purpose);
}

/** The words as they will be heard, as written, so that spans fit; a new title counts where nothing else is heard. */
export function heard(found: Appearance, words: string | null, title: string | null = null): string {
  if (words !== null) return words;
  const reading = withTexts(found, { words, title, caption: null });
  if (reading.state !== 'described') return '';
  return (
    { alt: reading.markup.alt, 'aria-label': reading.markup.ariaLabel, title: reading.markup.title }[
      reading.accessible.nameSource as string
    ] ?? reading.accessible.name
  );
}

/** What an editor would call the file, or the element where there is none. */
export function nameOf(p: { src: string | null }, reading: Appearance): string | Message {
  const src = p.src ?? reading.markup.src;
  if (!src || src.startsWith('data:')) {
    return { id: WITHOUT_FILE[reading.element] ?? 'picture.no-file' };
  }
  if (isNumbered(src)) {
    // Places in markup are paths of elements, which say nothing to people.
    const place = isDocumentObject(reading) ? reading.context.place.replace(/^.* > /, '') : 'picture';
    return { id: 'picture.held', values: { place, document: fileName(src.replace(/!\/.*$/, '')) } };
  }
  return fileName(src);
}

/** What a picture without a file is called, by its element. */
const WITHOUT_FILE: Partial<Record<AppearanceElement, string>> = {
  svg: 'picture.inline',
  'role-img': 'picture.by-style',
  chart: 'picture.chart',
  diagram: 'picture.diagram',
  group: 'picture.group',
  table: 'picture.table',
  shape: 'picture.shape',
  formula: 'picture.formula',
};
