import type { Message } from '@/core/model/message';
import { fileName } from './picture-files';
import { and, asc, desc, eq, getTableColumns, inArray, sql, type SQL } from 'drizzle-orm';
import type { Facets, GalleyView, Line, LineNote, Lines, Queue } from '@/contract/galley';
import { SURE, type Kind } from '@/core/model/picture-analysis';
import type { Purpose, Appearance } from '@/core/model/appearance';
import type { SubsumedFinding } from '@/core/model/finding';
import { database, type Queryable } from '../db/database';
import { appearance, collection, conflict, finding, page, picture, wording } from '../db/schema';
import { thumbOf } from './picture-rows';
import { countOf, PICTURE_STATES, type PictureState } from './states';

/** What a line shows: all but what is large and read at the Desk only. */
const { details: _s, fingerprint: _l, recognition: _i, search: _q, colours: _c, ...LISTED } = getTableColumns(picture);
type ListedRow = Pick<typeof picture.$inferSelect, keyof typeof LISTED>;

/** Which pictures a view shows. */
export function conditions(collectionId: string, view: GalleyView): SQL {
  const parts: SQL[] = [eq(picture.collectionId, collectionId), sql`${picture.appearances} > 0`];
  if (view.state !== 'all') parts.push(PICTURE_STATES[view.state]);
  if (view.rule !== 'any') parts.push(sql`${picture.rules} @> array[${view.rule}]::text[]`);
  if (view.kind !== 'any') parts.push(sql`${picture.kind} = ${view.kind} and ${picture.kindSure} >= ${SURE}`);
  if (view.similarGroup > 0) parts.push(eq(picture.similarGroup, view.similarGroup));
  for (const word of view.q.toLowerCase().split(/\s+/).filter(Boolean))
    parts.push(sql`${picture.search} like ${`%${word.replace(/[\\%_]/g, '\\$&')}%`}`);
  return and(...parts)!;
}

/** What a view is sorted by, greatest first (the place: least first); ties by id. */
function sortKey(view: GalleyView): { key: SQL; descending: boolean } {
  switch (view.sort) {
    case 'first':
      return { key: sql`${picture.urgency}`, descending: true };
    case 'alike':
      return { key: sql`coalesce(${picture.similarGroup}, ${picture.id})`, descending: false };
    case 'reach':
      return { key: sql`${picture.reach}`, descending: true };
    case 'weight':
      return { key: sql`coalesce(${picture.bytes}, 0)`, descending: true };
    case 'length':
      return { key: sql`${picture.length}`, descending: true };
    case 'place':
      return { key: sql`${picture.id}`, descending: false };
  }
}

/** In which order a view shows them, or backwards. */
export function order(view: GalleyView, backwards = false): SQL[] {
  const { key, descending } = sortKey(view);
  // No key is null; where nulls would go is said as the indexes say it, which else are not used.
  const [forth, back] = descending ? ['desc nulls last', 'asc nulls first'] : ['asc', 'desc'];
  return [sql`${key} ${sql.raw(backwards ? back! : forth!)}`, backwards ? desc(picture.id) : asc(picture.id)];
}

/** A window of the Galley's lines. */
export async function galleyLines(
  collectionId: string,
  view: GalleyView,
  offset: number,
  limit: number,
): Promise<Lines> {
  const db = await database();
  const where = conditions(collectionId, view);
  // With the count, before the lines: what is saved in between is newer than they are.
  const [count] = await db
    .select({
      n: sql`count(*)`.mapWith(Number),
      revision: sql`(select revision from ${collection} where id = ${collectionId})`.mapWith(Number),
      clashes: sql<boolean>`exists (select 1 from ${conflict} k where k.collection_id = ${collectionId} and k.settled_at is null)`,
    })
    .from(picture)
    .where(where);
  const { n: total, ...state } = count!;
  const size = Math.min(limit, total - offset);
  if (size <= 0) return { total, lines: [] };
  // What is nearer to the end is reached from there.
  const backwards = offset > total / 2;
  const rows = await db
    .select(LISTED)
    .from(picture)
    .where(where)
    .orderBy(...order(view, backwards))
    .limit(size)
    .offset(backwards ? total - offset - size : offset);
  return { total, lines: await toLines(backwards ? rows.reverse() : rows, view, state) };
}

/**
 * Where a picture stands among those that a view shows. A picture that the view shows no more, because it
 * has words by now, keeps its place, so that stepping on goes on from there.
 */
export async function queueAt(collectionId: string, view: GalleyView, pictureId: number): Promise<Queue> {
  const db = await database();
  const where = conditions(collectionId, view);
  const { key, descending } = sortKey(view);
  // Done, it has lost its place in the order of work: then on with what is first.
  const own =
    view.sort === 'first'
      ? sql`(select case when ${where} then ${key} else 1e9 end from ${picture} where ${picture.id} = ${pictureId})`
      : sql`(select ${key} from ${picture} where ${picture.id} = ${pictureId})`;
  const beyond = (later: boolean) => {
    const compare = descending === later ? sql.raw('<') : sql.raw('>');
    return sql`(${key} ${compare} ${own} or (${key} = ${own} and ${picture.id} ${sql.raw(later ? '>' : '<')} ${pictureId}))`;
  };
  const neighbour = async (later: boolean) => {
    const [row] = await db
      .select({ id: picture.id })
      .from(picture)
      .where(and(where, beyond(later)))
      .orderBy(...order(view, !later))
      .limit(1);
    return row?.id ?? null;
  };
  const [counts] = await db
    .select({
      before: sql`count(*) filter (where ${beyond(false)})`.mapWith(Number),
      others: sql`count(*) filter (where ${picture.id} <> ${pictureId})`.mapWith(Number),
    })
    .from(picture)
    .where(where);
  return {
    position: counts!.before + 1,
    total: counts!.others + 1,
    previous: await neighbour(false),
    next: await neighbour(true),
  };
}

/** The first picture that a view shows; null when it shows none. */
export async function firstOf(collectionId: string, view: GalleyView): Promise<number | null> {
  const db = await database();
  const [row] = await db
    .select({ id: picture.id })
    .from(picture)
    .where(conditions(collectionId, view))
    .orderBy(...order(view))
    .limit(1);
  return row?.id ?? null;
}

async function toLines(
  rows: ListedRow[],
  view: GalleyView,
  { revision, clashes }: { revision: number; clashes: boolean },
): Promise<Line[]> {
  if (rows.length === 0) return [];
  const db = await database();
  const ids = rows.map((r) => r.id);
  const shown = await shownAppearances(db, ids, view);
  const notes = await notesOf(
    db,
    ids,
    [...shown.values()].map((a) => a.id),
  );
  const drafts = await db
    .selectDistinctOn([appearance.pictureId], { pictureId: appearance.pictureId, text: wording.text })
    .from(wording)
    .innerJoin(appearance, eq(appearance.id, wording.appearanceId))
    .where(and(inArray(appearance.pictureId, ids), eq(appearance.gone, false), eq(wording.state, 'draft')))
    .orderBy(appearance.pictureId, desc(wording.id));
  const draftOf = new Map(drafts.map((d) => [d.pictureId, d.text]));
  const clashing = clashes
    ? await db
        .selectDistinct({ id: picture.id })
        .from(picture)
        .where(and(inArray(picture.id, ids), PICTURE_STATES.conflict))
    : [];
  const conflicts = new Set(clashing.map((c) => c.id));
  return rows.flatMap((p) => {
    const a = shown.get(p.id);
    if (!a) return [];
    return [
      {
        id: p.id,
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
        missing: p.missing,
        appearanceId: a.id,
        state: a.state,
        heard: heard(a.reading, a.words),
        lang: a.reading.context.lang ?? a.lang,
        purpose: a.purpose as Purpose,
        page: a.page || a.path,
        worded: a.words !== null,
        draft: draftOf.get(p.id) ?? null,
        conflict: conflicts.has(p.id),
        revision,
        notes: notes.filter((n) => n.pictureId === p.id).map((n) => toNote(n, a.id)),
      },
    ];
  });
}

/** The appearance that stands for each picture: one that the view asks for, then the worst, then the first. */
async function shownAppearances(db: Queryable, pictureIds: readonly number[], view: GalleyView) {
  const worst = sql`(select min(case when rule = ${view.rule} then -1 when outcome = 'failed' then 0 when outcome = 'cantTell' then 1 else 2 end)
    from ${finding} f where f.appearance_id = ${appearance.id} and not f.ignored)`;
  const rows = await db
    .selectDistinctOn([appearance.pictureId], {
      id: appearance.id,
      pictureId: appearance.pictureId,
      reading: appearance.reading,
      words: appearance.words,
      state: appearance.state,
      purpose: appearance.purpose,
      page: page.title,
      path: page.path,
      lang: page.lang,
    })
    .from(appearance)
    .innerJoin(page, eq(page.id, appearance.pageId))
    .where(and(inArray(appearance.pictureId, [...pictureIds]), eq(appearance.gone, false)))
    .orderBy(
      appearance.pictureId,
      ...(view.state === 'missing' ? [sql`${appearance.state} <> 'missing'`] : []),
      sql`${worst} nulls last`,
      page.path,
      appearance.position,
    );
  return new Map(rows.map((r) => [r.pictureId, r]));
}

/** One finding for each picture and rule, the gravest first: the shown appearance's, else the first; with how many there are. */
function notesOf(db: Queryable, pictureIds: readonly number[], shownIds: readonly number[]) {
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

function toNote(n: Awaited<ReturnType<typeof notesOf>>[number], shown: number): LineNote {
  const { rule, outcome, message, fixes, also, places } = n;
  const span = n.appearanceId === shown && n.spanStart !== null ? { start: n.spanStart, end: n.spanEnd! } : null;
  return { rule, outcome, message, fixes, also, places, span };
}

/** The words as they will be heard, as written, so that spans fit. */
export function heard(reading: Appearance, words: string | null): string {
  if (words !== null) return words;
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
    const id = { svg: 'picture.inline', 'role-img': 'picture.by-style' }[reading.element as string];
    return { id: id ?? 'picture.no-file' };
  }
  return fileName(src);
}

/** How many pictures each choice of the Galley would show. */
export async function galleyFacets(collectionId: string): Promise<Facets> {
  const db = await database();
  const mine = and(eq(picture.collectionId, collectionId), sql`${picture.appearances} > 0`)!;
  // Pictures with the same rules and kind together, so that all of them are read once.
  const groups = await db
    .select({
      rules: picture.rules,
      kind: sql<Kind | null>`case when ${picture.kindSure} >= ${SURE} then ${picture.kind} end`.as('sure_kind'),
      all: sql`count(*)`.mapWith(Number),
      todo: countOf('todo'),
      doubtful: countOf('doubtful'),
      missing: countOf('missing'),
      described: countOf('described'),
      decorative: countOf('decorative'),
      draft: countOf('draft'),
      conflict: countOf('conflict'),
      appearances: sql`sum(appearances)`.mapWith(Number),
    })
    .from(picture)
    .where(mine)
    .groupBy(picture.rules, sql`sure_kind`);
  const total = (of: PictureState | 'all' | 'appearances') => groups.reduce((sum, g) => sum + g[of], 0);
  const rules = new Map<string, number>();
  const kinds = new Map<Kind, number>();
  for (const g of groups) {
    for (const rule of g.rules) rules.set(rule, (rules.get(rule) ?? 0) + g.all);
    if (g.kind !== null) kinds.set(g.kind, (kinds.get(g.kind) ?? 0) + g.all);
  }
  const [pages] = await db
    .select({ n: sql`count(*)`.mapWith(Number) })
    .from(page)
    .where(and(eq(page.collectionId, collectionId), eq(page.gone, false)));
  return {
    all: total('all'),
    todo: total('todo'),
    doubtful: total('doubtful'),
    conflict: total('conflict'),
    missing: total('missing'),
    described: total('described'),
    decorative: total('decorative'),
    draft: total('draft'),
    appearances: total('appearances'),
    rules: [...rules].map(([rule, pictures]) => ({ rule, pictures })),
    kinds: [...kinds].map(([kind, pictures]) => ({ kind, pictures })).sort((a, b) => b.pictures - a.pictures),
    pages: pages!.n,
  };
}
