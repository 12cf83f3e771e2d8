import { and, asc, desc, eq, inArray, sql, type SQL } from 'drizzle-orm';
import { z } from 'zod';
import type { Appearance, State } from '@/core/appearance';
import { OUTCOMES, type Mend, type Outcome } from '@/core/rules/rule';
import { database } from '../db/database';
import { appearance, finding, page, picture, wording } from '../db/schema';

/** What the Galley shows, as its address says it. */
export const GalleyView = z.object({
  state: z.enum(['all', 'doubtful', 'unsaid', 'said', 'silent', 'draft']).catch('all'),
  rule: z.string().max(40).catch('any'),
  q: z.string().trim().max(200).catch(''),
  sort: z.enum(['reach', 'weight', 'length', 'place']).catch('reach'),
});
export type GalleyView = z.infer<typeof GalleyView>;

export interface LineNote {
  rule: string;
  outcome: Outcome;
  message: string;
  appearanceId: number;
  span: { start: number; end: number } | null;
  mends: Mend[];
}

/** One line of the Galley: a picture with the words of the appearance that stands for it. */
export interface Line {
  id: number;
  /** Where it can be shown from; null for what shows no file. */
  thumb: string | null;
  name: string;
  type: string | null;
  bytes: number | null;
  width: number | null;
  height: number | null;
  reach: number;
  appearances: number;
  said: number;
  silent: number;
  unsaid: number;
  drafts: number;
  /** The appearance that the line shows. */
  appearanceId: number;
  appearanceIds: number[];
  state: State;
  heard: string;
  lang: string | null;
  purpose: string;
  page: string;
  region: string | null;
  worded: boolean;
  draft: string | null;
  notes: LineNote[];
}

export interface Lines {
  total: number;
  lines: Line[];
}

function conditions(collectionId: string, view: GalleyView): SQL {
  const parts: SQL[] = [eq(picture.collectionId, collectionId), sql`${picture.appearances} > 0`];
  if (view.state === 'doubtful') parts.push(sql`(${picture.unsaid} > 0 or ${picture.worst} <= 1)`);
  if (view.state === 'unsaid') parts.push(sql`${picture.unsaid} > 0`);
  if (view.state === 'said') parts.push(sql`${picture.said} > 0 and ${picture.unsaid} = 0`);
  if (view.state === 'silent') parts.push(sql`${picture.silent} > 0 and ${picture.said} = 0 and ${picture.unsaid} = 0`);
  if (view.state === 'draft') parts.push(sql`${picture.drafts} > 0`);
  if (view.rule !== 'any') parts.push(sql`${picture.rules} @> array[${view.rule}]::text[]`);
  for (const word of view.q.toLowerCase().split(/\s+/).filter(Boolean))
    parts.push(sql`${picture.search} like ${`%${word.replace(/[\\%_]/g, '\\$&')}%`}`);
  return and(...parts)!;
}

function order(view: GalleyView): SQL[] {
  switch (view.sort) {
    case 'reach':
      return [desc(picture.reach), asc(picture.id)];
    case 'weight':
      return [sql`${picture.bytes} desc nulls last`, asc(picture.id)];
    case 'length':
      return [desc(picture.length), asc(picture.id)];
    case 'place':
      return [asc(picture.id)];
  }
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
  const [count] = await db.select({ n: sql`count(*)`.mapWith(Number) }).from(picture).where(where);
  const rows = await db
    .select()
    .from(picture)
    .where(where)
    .orderBy(...order(view))
    .limit(limit)
    .offset(offset);
  return { total: count!.n, lines: await toLines(rows, view) };
}

/** The ids of all pictures a view shows, in its order: what the Desk steps through. */
export async function galleyOrder(collectionId: string, view: GalleyView): Promise<number[]> {
  const db = await database();
  const rows = await db
    .select({ id: picture.id })
    .from(picture)
    .where(conditions(collectionId, view))
    .orderBy(...order(view));
  return rows.map((r) => r.id);
}

export async function linesOf(ids: readonly number[]): Promise<Line[]> {
  const db = await database();
  if (ids.length === 0) return [];
  return toLines(await db.select().from(picture).where(inArray(picture.id, [...ids])), GalleyView.parse({}));
}

async function toLines(rows: (typeof picture.$inferSelect)[], view: GalleyView): Promise<Line[]> {
  if (rows.length === 0) return [];
  const db = await database();
  const ids = rows.map((r) => r.id);
  const notes = await db.select().from(finding).where(inArray(finding.pictureId, ids)).orderBy(finding.id);
  const places = await db
    .select({
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
    .where(and(inArray(appearance.pictureId, ids), eq(appearance.gone, false)))
    .orderBy(page.path, appearance.position);
  const drafts = await db
    .select({ appearanceId: wording.appearanceId, text: wording.text })
    .from(wording)
    .innerJoin(appearance, eq(appearance.id, wording.appearanceId))
    .where(and(inArray(appearance.pictureId, ids), eq(wording.state, 'draft')));

  return rows.flatMap((p) => {
    const own = places.filter((a) => a.pictureId === p.id);
    const ownNotes = notes
      .filter((n) => n.pictureId === p.id)
      .sort((a, b) => OUTCOMES.indexOf(a.outcome) - OUTCOMES.indexOf(b.outcome));
    // The line shows the place that most needs words: one that the view asks for, then the worst.
    const wanted = ownNotes.find((n) => n.rule === view.rule) ?? ownNotes[0];
    const shown =
      (view.state === 'unsaid' || !wanted ? own.find((a) => a.state === 'unsaid') : undefined) ??
      own.find((a) => a.id === wanted?.appearanceId) ??
      own[0];
    if (!shown) return [];
    const draft = drafts.find((d) => own.some((a) => a.id === d.appearanceId))?.text ?? null;
    return [
      {
        id: p.id,
        thumb: p.thumb,
        name: nameOf(p, shown.reading),
        type: p.type,
        bytes: p.bytes,
        width: p.width,
        height: p.height,
        reach: p.reach,
        appearances: p.appearances,
        said: p.said,
        silent: p.silent,
        unsaid: p.unsaid,
        drafts: p.drafts,
        appearanceId: shown.id,
        appearanceIds: own.map((a) => a.id),
        state: shown.state,
        heard: heard(shown.reading, shown.words),
        lang: shown.reading.lang ?? shown.lang,
        purpose: shown.purpose,
        page: shown.page || shown.path,
        region: shown.reading.region,
        worded: shown.words !== null,
        draft,
        notes: distinctNotes(ownNotes, shown.id),
      },
    ];
  });
}

/** One note for each rule: the shown appearance's, else the first. */
function distinctNotes(notes: (typeof finding.$inferSelect)[], shown: number): LineNote[] {
  const byRule = new Map<string, (typeof notes)[number]>();
  for (const n of notes) if (!byRule.has(n.rule) || n.appearanceId === shown) byRule.set(n.rule, n);
  return [...byRule.values()].map((n) => ({
    rule: n.rule,
    outcome: n.outcome,
    message: n.message,
    appearanceId: n.appearanceId,
    span: n.appearanceId === shown && n.spanStart !== null ? { start: n.spanStart, end: n.spanEnd! } : null,
    mends: n.mends,
  }));
}

/** The words as they will be heard, as written, so that spans fit. */
export function heard(reading: Appearance, words: string | null): string {
  if (words !== null) return words;
  if (reading.state !== 'said') return '';
  return { alt: reading.alt, 'aria-label': reading.ariaLabel, title: reading.title }[reading.nameSource as string] ?? reading.name;
}

/** What an editor would call the file, or the element where there is none. */
export function nameOf(p: { src: string | null }, reading: Appearance): string {
  const src = p.src ?? reading.src;
  if (!src || src.startsWith('data:')) {
    return reading.element === 'svg' ? 'inline drawing' : reading.element === 'role-img' ? 'drawn by style' : 'no file';
  }
  const last = src.split(/[?#]/)[0]!.split('/').pop() || src;
  try {
    return decodeURIComponent(last);
  } catch {
    return last;
  }
}

export interface Facets {
  all: number;
  doubtful: number;
  unsaid: number;
  said: number;
  silent: number;
  draft: number;
  rules: { rule: string; pictures: number }[];
  appearances: number;
  pages: number;
}

/** How many pictures each choice of the Galley would show. */
export async function galleyFacets(collectionId: string): Promise<Facets> {
  const db = await database();
  const mine = and(eq(picture.collectionId, collectionId), sql`${picture.appearances} > 0`)!;
  const [counts] = await db
    .select({
      all: sql`count(*)`.mapWith(Number),
      doubtful: sql`count(*) filter (where unsaid > 0 or worst <= 1)`.mapWith(Number),
      unsaid: sql`count(*) filter (where unsaid > 0)`.mapWith(Number),
      said: sql`count(*) filter (where said > 0 and unsaid = 0)`.mapWith(Number),
      silent: sql`count(*) filter (where silent > 0 and said = 0 and unsaid = 0)`.mapWith(Number),
      draft: sql`count(*) filter (where drafts > 0)`.mapWith(Number),
      appearances: sql`coalesce(sum(appearances), 0)`.mapWith(Number),
    })
    .from(picture)
    .where(mine);
  const rules = await db
    .select({ rule: sql<string>`r`, pictures: sql`count(*)`.mapWith(Number) })
    .from(sql`${picture}, unnest(${picture.rules}) r`)
    .where(mine)
    .groupBy(sql`r`);
  const [pages] = await db
    .select({ n: sql`count(*)`.mapWith(Number) })
    .from(page)
    .where(and(eq(page.collectionId, collectionId), eq(page.gone, false)));
  return { ...counts!, rules, pages: pages!.n };
}
