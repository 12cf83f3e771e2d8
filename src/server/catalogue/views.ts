import { and, asc, desc, eq, sql, type SQL } from 'drizzle-orm';
import type { PgColumn } from 'drizzle-orm/pg-core';
import { RANGES, type FacetChoice, type FacetName, type GalleyView, type Queue } from '@/contract/galley';
import { SURE } from '@/core/model/picture-analysis';
import { ownTitle } from '@/core/words/page-title';
import { pageOrder } from './page-order';
import { database } from '../db/database';
import { appearance, finding, page, picture, survey } from '../db/schema';
import { PICTURE_STATES } from './states';

const ANY = 'any';

/** The last survey of a collection that came to its end. */
const lastSurvey = (collectionId: string): SQL =>
  sql`(select max(${survey.id}) from ${survey} where ${survey.collectionId} = ${collectionId} and ${survey.summary} is not null)`;

/** A file's format as people call it; empty where it has none that is known. */
const FORMAT = sql`regexp_replace(coalesce(${picture.type}, ''), '^image/|\\+xml$', '', 'g')`;

const RANGED = { weight: picture.bytes, shown: picture.shownWidth, uses: picture.reach } as const;

function within(facet: keyof typeof RANGED, value: string): SQL {
  const ranges: Record<string, readonly [number, number]> = RANGES[facet];
  const [from, to] = ranges[value]!;
  const column = RANGED[facet];
  return to === Infinity ? sql`${column} >= ${from}` : sql`(${column} >= ${from} and ${column} < ${to})`;
}

const has = (column: PgColumn, value: string): SQL => sql`${column} @> array[${value}]::text[]`;

/** By how many rules find something at a picture. */
const FINDINGS = {
  none: sql`cardinality(${picture.rules}) = 0`,
  one: sql`cardinality(${picture.rules}) = 1`,
  several: sql`cardinality(${picture.rules}) > 1`,
};

/** What each facet of a view asks of a picture; null where it asks nothing. */
const ASKS: Record<FacetName, (view: GalleyView, collectionId: string) => SQL | null> = {
  state: ({ state }) => (state === 'all' ? null : PICTURE_STATES[state]),
  rule: ({ rule }) => (rule === ANY ? null : has(picture.rules, rule)),
  kind: ({ kind }) => (kind === ANY ? null : sql`(${picture.kind} = ${kind} and ${picture.kindSure} >= ${SURE})`),
  purpose: ({ purpose }) => (purpose === ANY ? null : has(picture.purposes, purpose)),
  section: ({ section }) => (section === ANY ? null : has(picture.sections, section)),
  page: ({ page: id }) =>
    id === 0
      ? null
      : sql`exists (select from ${appearance} x where x.picture_id = ${picture.id} and x.page_id = ${id} and not x.gone)`,
  host: ({ host }) => (host === ANY ? null : sql`${picture.host} = ${host}`),
  format: ({ format }) => (format === ANY ? null : sql`${FORMAT} = ${format}`),
  weight: ({ weight }) => (weight === ANY ? null : within('weight', weight)),
  shown: ({ shown }) => (shown === ANY ? null : within('shown', shown)),
  uses: ({ uses }) => (uses === ANY ? null : within('uses', uses)),
  findings: ({ findings }) => (findings === ANY ? null : FINDINGS[findings]),
  language: ({ language }) => (language === ANY ? null : has(picture.languages, language)),
  writer: ({ writer }) =>
    writer === ANY ? null : writer === 'nobody' ? sql`${picture.writers} = '{}'` : has(picture.writers, writer),
  since: ({ since }, collectionId) =>
    since === ANY
      ? null
      : sql`${since === 'new' ? picture.firstSurveyId : picture.changedSurveyId} = ${lastSurvey(collectionId)}`,
};

/** Which pictures a view shows. */
export function conditions(collectionId: string, view: GalleyView, except?: FacetName): SQL {
  const parts: SQL[] = [eq(picture.collectionId, collectionId), sql`${picture.appearances} > 0`];
  for (const [facet, ask] of Object.entries(ASKS)) {
    const asked = facet === except ? null : ask(view, collectionId);
    if (asked) parts.push(asked);
  }
  if (view.similarGroup > 0) parts.push(eq(picture.similarGroup, view.similarGroup));
  const searched = hasWords(picture.search, view.q);
  if (searched) parts.push(searched);
  return and(...parts)!;
}

/** Whether a text in lower case has all words of a search in it; null where nothing is searched for. */
export function hasWords(text: PgColumn, q: string): SQL | null {
  const words = q.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) return null;
  return and(...words.map((word) => sql`${text} like ${`%${word.replace(/[\\%_]/g, '\\$&')}%`}`))!;
}

/** Whether the lines of a view are places rather than pictures. */
export const showsPlaces = (view: GalleyView): boolean => view.group === 'page' || view.group === 'place';

/** Which places of its pictures a view shows, where its lines are places. */
export function placeConditions(view: GalleyView): SQL {
  const parts: SQL[] = [eq(appearance.gone, false)];
  if (view.page > 0) parts.push(eq(appearance.pageId, view.page));
  if (view.rule !== ANY)
    parts.push(
      sql`exists (select from ${finding} f where f.appearance_id = ${appearance.id} and f.rule = ${view.rule} and not f.ignored)`,
    );
  if (view.state === 'missing') parts.push(eq(appearance.state, 'missing'));
  if (view.purpose !== ANY) parts.push(eq(appearance.purpose, view.purpose));
  return and(...parts)!;
}

/** What a view is sorted by, greatest first (the place: least first); ties by id. */
function sortKey(view: GalleyView): { key: SQL; descending: boolean } {
  switch (view.group === 'alike' ? 'alike' : view.sort) {
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

/** In which order a view shows places. */
export const placeOrder = (view: GalleyView): SQL[] => [
  ...(view.group === 'place' ? [sql`${appearance.place}`] : []),
  pageOrder,
  sql`${appearance.position}`,
];

const CHOICES = 200;

/**
 * The choices of a facet, with how many pictures each would show beside everything else that the view asks for; those with
 * most first.
 *
 * @param q part of the title or path of a page, for the facet `page`
 */
export async function facetChoices(
  collectionId: string,
  view: GalleyView,
  facet: FacetName,
  q = '',
): Promise<FacetChoice[]> {
  const db = await database();
  const where = conditions(collectionId, view, facet);
  const counted = async (values: Record<string, SQL>): Promise<FacetChoice[]> => {
    const [row] = await db
      .select(
        Object.fromEntries(
          Object.entries(values).map(([value, is]) => [value, sql`count(*) filter (where ${is})`.mapWith(Number)]),
        ),
      )
      .from(picture)
      .where(where);
    return Object.entries(row as Record<string, number>).map(([value, pictures]) => ({ value, pictures }));
  };
  const each = (of: SQL, from: SQL = sql``): Promise<FacetChoice[]> =>
    db
      .select({ value: sql<string>`${of}`.as('value'), pictures: sql`count(*)`.mapWith(Number) })
      .from(sql`${picture}${from}`)
      .where(and(where, sql`${of} is not null`))
      .groupBy(sql`1`)
      .orderBy(sql`2 desc`, sql`1`)
      .limit(CHOICES);
  const unnested = (column: SQL) => each(sql`one`, sql` cross join lateral unnest(${column}) one`);
  switch (facet) {
    case 'state':
      return counted(
        Object.fromEntries(
          Object.keys(PICTURE_STATES).map((s) => [s, PICTURE_STATES[s as keyof typeof PICTURE_STATES]]),
        ),
      );
    case 'weight':
    case 'shown':
    case 'uses':
      return counted(Object.fromEntries(Object.keys(RANGES[facet]).map((value) => [value, within(facet, value)])));
    case 'findings':
      return counted(FINDINGS);
    case 'since':
      return counted({
        new: ASKS.since({ ...view, since: 'new' }, collectionId)!,
        changed: ASKS.since({ ...view, since: 'changed' }, collectionId)!,
      });
    case 'writer': {
      const [nobody] = await counted({ nobody: sql`${picture.writers} = '{}'` });
      return [...(await unnested(sql`${picture.writers}`)), ...(nobody!.pictures > 0 ? [nobody!] : [])];
    }
    case 'rule':
      return unnested(sql`${picture.rules}`);
    case 'purpose':
      return unnested(sql`${picture.purposes}`);
    case 'section':
      return unnested(sql`${picture.sections}`);
    case 'language':
      return unnested(sql`${picture.languages}`);
    case 'kind':
      return each(sql`case when ${picture.kindSure} >= ${sql.raw(String(SURE))} then ${picture.kind} end`);
    case 'host':
      return each(sql`nullif(${picture.host}, '')`);
    case 'format':
      return each(sql`nullif(${FORMAT}, '')`);
    case 'page': {
      const like = `%${q.toLowerCase().replace(/[\\%_]/g, '\\$&')}%`;
      const rows = await db
        .select({
          id: page.id,
          title: page.title,
          path: page.path,
          pictures: sql`count(distinct ${picture.id})`.mapWith(Number),
        })
        .from(appearance)
        .innerJoin(page, eq(page.id, appearance.pageId))
        .innerJoin(picture, eq(picture.id, appearance.pictureId))
        .where(and(where, eq(appearance.gone, false), sql`lower(${page.title} || ' ' || ${page.path}) like ${like}`))
        .groupBy(page.id)
        .orderBy(sql`4 desc`, page.path)
        .limit(CHOICES);
      return rows.map(({ id, title, path, pictures }) => ({
        value: String(id),
        label: ownTitle(title) || path,
        pictures,
      }));
    }
  }
}

/** How many pictures a view shows. */
export async function countView(collectionId: string, view: GalleyView): Promise<number> {
  const db = await database();
  const [row] = await db
    .select({ n: sql`count(*)`.mapWith(Number) })
    .from(picture)
    .where(conditions(collectionId, view));
  return row!.n;
}

/** How many pictures a queue takes before and after the one that it is asked for. */
const EACH_WAY = 2500;

/**
 * The pictures that a view shows, in its order, around one of them. A picture that the view shows no more, because it
 * has words by now, keeps its place, so that stepping on goes on from there.
 */
export async function queueAt(collectionId: string, view: GalleyView, pictureId: number): Promise<Queue> {
  const db = await database();
  const where = conditions(collectionId, view);
  const { key, descending } = sortKey(view);
  // Done, it has lost its place in the order of work: then on with what is first.
  const own =
    view.sort === 'first' && view.group !== 'alike'
      ? sql`(select case when ${where} then ${key} else 1e9 end from ${picture} where ${picture.id} = ${pictureId})`
      : sql`(select ${key} from ${picture} where ${picture.id} = ${pictureId})`;
  const beyond = (later: boolean) => {
    const compare = descending === later ? sql.raw('<') : sql.raw('>');
    return sql`(${key} ${compare} ${own} or (${key} = ${own} and ${picture.id} ${sql.raw(later ? '>' : '<')} ${pictureId}))`;
  };
  const around = async (later: boolean) => {
    const rows = await db
      .select({ id: picture.id })
      .from(picture)
      .where(and(where, beyond(later)))
      .orderBy(...order(view, !later))
      .limit(EACH_WAY);
    return rows.map((r) => r.id);
  };
  const [before, after] = [(await around(false)).reverse(), await around(true)];
  return {
    ids: [...before, pictureId, ...after],
    isWhole: before.length < EACH_WAY && after.length < EACH_WAY,
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
