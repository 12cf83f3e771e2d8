import { and, desc, eq, exists, isNotNull, sql, type SQL } from 'drizzle-orm';
import { GalleyView } from '@/contract/galley';
import type { Brief, First, Lengths, Thumbnails } from '@/contract/brief';
import { isWidespread } from '@/core/brief/widespread';
import { LEAST_PAGES, placeName, rollUps, type FindingGroup } from '@/core/brief/roll-ups';
import { OUTCOMES, type Outcome } from '@/core/model/finding';
import { lengthOf } from '@/core/words/graphemes';
import { limitOf } from '@/core/house-style/house-style';
import { countsOf, shelfLine, type Collection } from '../catalogue/collections';
import { database, type Queryable } from '../db/database';
import { appearance, finding, page, picture, survey, wording } from '../db/schema';
import { pageTitles } from '../bulk/plan';
import { galleyFacets } from '../catalogue/facets';
import { galleyLines, nameOf } from '../catalogue/lines';
import { thumbOf } from '../catalogue/picture-rows';
import { openConflicts } from '../wordings/conflicts';

const SHOWN = 10;
export const CONFLICTS_SHOWN = 20;
/** Of them, changes in one place that fix many pages. */
const ROLLED_UP = 5;
/** Lines of the Galley among which the single pictures are looked for. */
const CANDIDATES = 60;

/** Everything that the front page of a collection says. */
export async function brief(c: Collection): Promise<Brief> {
  const db = await database();
  const { pictures, described, decorative, missing, doubtful } = await shelfLine(c);
  const pictureOf: PictureOf = new Map();
  const { outcomes, ignored, rules, widespread } = await found(db, c.id);
  const isOne = (rule: string) => widespread.some((w) => w.rule === rule);
  const groups = [
    ...(await placeGroups(db, c.id, pictureOf)),
    ...(await pictureGroups(db, c.id, pictureOf)),
    // What is decided once for all is no thing to do at each place.
  ].filter((g) => !isOne(g.rule));
  const fixing = rollUps(groups).slice(0, ROLLED_UP);
  const first: First[] = [];
  for (const { kind, key, rules, appearances, pages } of fixing) {
    const shown = await standIn(db, appearances[0]!);
    first.push({
      kind,
      place: kind === 'place' ? placeName(key) : null,
      rules,
      places: appearances.length,
      pages,
      reason: null,
      ...shown,
    });
  }
  const thumbnails = await thumbnailsToName(db, c.id);
  const named = new Set(thumbnails?.pictures);
  const fixed = new Set(fixing.flatMap((r) => r.appearances.map((id) => pictureOf.get(id)!)));
  if (first.length < SHOWN) {
    const { lines } = await galleyLines(c.id, GalleyView.parse({ state: 'todo', sort: 'first' }), 0, CANDIDATES);
    for (const l of lines.filter((l) => !fixed.has(l.id) && !named.has(l.id)).slice(0, SHOWN - first.length))
      first.push({
        kind: 'single',
        place: null,
        rules: l.notes.filter((n) => n.outcome !== 'advice').map((n) => n.rule),
        places: l.appearances,
        pages: l.reach,
        reason: l.reason,
        picture: { id: l.id, name: l.name, thumb: l.thumb },
        appearanceId: l.appearanceId,
      });
  }
  const settles = fixed.size + first.filter((f) => f.kind === 'single').length;
  const [lengths, sections, history] = [await lengthsOf(db, c), await bySection(db, c), await historyOf(db, c.id)];
  const conflicts = {
    first: await openConflicts(db, c.id, undefined, CONFLICTS_SHOWN),
    total: (await countsOf(c.id)).conflicts,
  };
  const state = { pictures, described, decorative, missing, doubtful, conflicts, drafted: await draftedIn(db, c.id) };
  return {
    ...state,
    first,
    settles,
    rules,
    widespread,
    thumbnails: thumbnails?.shown ?? null,
    outcomes,
    ignored,
    lengths,
    sections,
    history,
  };
}

/** How many places have words that came from drafts. */
async function draftedIn(db: Queryable, collectionId: string): Promise<Brief['drafted']> {
  const latest = db
    .selectDistinctOn([wording.appearanceId], {
      appearanceId: wording.appearanceId,
      changed: sql<number>`(${wording.draft}->'accepted'->>'changed')::float8`.as('changed'),
      isDrafted: sql<boolean>`${wording.draft} is not null`.as('is_drafted'),
    })
    .from(wording)
    .where(and(eq(wording.collectionId, collectionId), eq(wording.state, 'accepted')))
    .orderBy(wording.appearanceId, desc(wording.id))
    .as('latest');
  const drafted = sql`coalesce(${latest.isDrafted}, false) and ${appearance.state} = 'described'`;
  const [row] = await db
    .select({
      texts: sql`count(*) filter (where ${drafted})`.mapWith(Number),
      edited: sql`count(*) filter (where ${drafted} and ${latest.changed} > 0)`.mapWith(Number),
      // What the page says by itself waits for no delivery.
      live: sql`count(*) filter (where ${drafted} and ${appearance.words} is null)`.mapWith(Number),
      of: sql`count(*) filter (where ${appearance.state} = 'described')`.mapWith(Number),
    })
    .from(appearance)
    .leftJoin(latest, eq(latest.appearanceId, appearance.id))
    .where(and(eq(appearance.collectionId, collectionId), eq(appearance.gone, false)));
  return row!;
}

/** What the rules found: findings by outcome, and by rule the pictures that it is found on. */
async function found(
  db: Queryable,
  collectionId: string,
): Promise<Pick<Brief, 'outcomes' | 'ignored' | 'rules' | 'widespread'>> {
  const rows = await db
    .select({
      rule: finding.rule,
      outcome: finding.outcome,
      ignored: finding.ignored,
      n: sql`count(*)`.mapWith(Number),
    })
    .from(finding)
    .where(eq(finding.collectionId, collectionId))
    .groupBy(finding.rule, finding.outcome, finding.ignored);
  const { rules } = await galleyFacets(collectionId);
  const open = rows.filter((r) => !r.ignored);
  const of = (outcome: Outcome) => open.filter((r) => r.outcome === outcome).reduce((sum, r) => sum + r.n, 0);
  const worst = (rule: string) => OUTCOMES.find((o) => open.some((r) => r.rule === rule && r.outcome === o));
  const { appearances } = await countsOf(collectionId);
  const places = (rule: string) => open.filter((r) => r.rule === rule).reduce((sum, r) => sum + r.n, 0);
  return {
    widespread: [...new Set(open.map((r) => r.rule))]
      .map((rule) => ({ rule, outcome: worst(rule)!, places: places(rule), of: appearances }))
      .filter((w) => isWidespread(w.places, w.of))
      .sort((a, b) => b.places - a.places),
    outcomes: { failed: of('failed'), cantTell: of('cantTell'), advice: of('advice') },
    ignored: rows.filter((r) => r.ignored).reduce((sum, r) => sum + r.n, 0),
    rules: rules
      .sort((a, b) => b.pictures - a.pictures || (a.rule < b.rule ? -1 : 1))
      .flatMap((r) => {
        const outcome = worst(r.rule);
        return outcome ? [{ ...r, outcome }] : [];
      }),
  };
}

/** Steps of ten characters that are distinguished. */
const STEPS = 16;

async function lengthsOf(db: Queryable, c: Collection): Promise<Lengths | null> {
  const rows = await db
    .selectDistinct({ words: appearance.wordsKey })
    .from(appearance)
    .where(and(eq(appearance.collectionId, c.id), eq(appearance.gone, false), isNotNull(appearance.wordsKey)));
  if (rows.length === 0) return null;
  const lengths = rows.map((r) => lengthOf(r.words!)).sort((a, b) => a - b);
  const steps = Array.from({ length: STEPS }, () => 0);
  for (const length of lengths) steps[Math.min(STEPS - 1, Math.floor(length / 10))]!++;
  const at = (share: number) => lengths[Math.floor(share * (lengths.length - 1))]!;
  const limit = limitOf(c.style);
  return { steps, quartiles: [at(0.25), at(0.75)], over: lengths.filter((l) => l > limit).length, limit };
}

/** Thumbnails from which naming them is one decision. */
const FEWEST_THUMBNAILS = 3;

/** Thumbnails that are to be worded and could be named by their page, and the pictures of which they are all places. */
async function thumbnailsToName(
  db: Queryable,
  collectionId: string,
): Promise<{ shown: Thumbnails; pictures: number[] } | null> {
  const grave = db
    .select({ one: sql`1` })
    .from(finding)
    .where(and(eq(finding.appearanceId, appearance.id), GRAVE));
  const are = and(
    eq(appearance.collectionId, collectionId),
    eq(appearance.gone, false),
    eq(appearance.isThumbnail, true),
  );
  const rows = await db
    .select({
      id: appearance.id,
      pageId: appearance.pageId,
      pictureId: appearance.pictureId,
      isOpen: sql<boolean>`${appearance.state} = 'missing' or ${exists(grave)}`,
    })
    .from(appearance)
    .where(are);
  const open = rows.filter((r) => r.isOpen);
  if (open.length < FEWEST_THUMBNAILS) return null;
  const titles = await pageTitles(
    db,
    collectionId,
    open.map((r) => r.id),
  );
  const changed = new Set(titles.filter((t) => t.before !== t.after).map((t) => t.id));
  const places = open.filter((r) => changed.has(r.id));
  if (places.length < FEWEST_THUMBNAILS) return null;
  return {
    shown: { places: places.map((r) => r.id), pages: new Set(places.map((r) => r.pageId)).size, of: rows.length },
    pictures: places.map((r) => r.pictureId),
  };
}

const SECTIONS = 8;

async function bySection(db: Queryable, c: Collection): Promise<Brief['sections']> {
  const count = (outcome: Outcome) => sql<number>`count(*) filter (where ${finding.outcome} = ${outcome})`.as(outcome);
  // By page first, because there are far fewer of them to name.
  const byPage = db
    .select({ pageId: finding.pageId, failed: count('failed'), cantTell: count('cantTell'), advice: count('advice') })
    .from(finding)
    .where(and(eq(finding.collectionId, c.id), eq(finding.ignored, false)))
    .groupBy(finding.pageId)
    .as('by_page');
  const name = sql<string>`split_part(split_part(regexp_replace(${page.path}, '^https?://[^/]+/', ''), '?', 1), '/', 1)`;
  const sum = (of: SQL.Aliased) => sql`sum(${of})`.mapWith(Number);
  return db
    .select({ name, failed: sum(byPage.failed), cantTell: sum(byPage.cantTell), advice: sum(byPage.advice) })
    .from(byPage)
    .innerJoin(page, eq(page.id, byPage.pageId))
    .groupBy(name)
    .orderBy(sql`sum(${byPage.failed} + ${byPage.cantTell}) desc`, name)
    .limit(SECTIONS);
}

const SURVEYS = 8;

async function historyOf(db: Queryable, collectionId: string): Promise<Brief['history']> {
  const rows = await db
    .select({ at: survey.startedAt, summary: survey.summary })
    .from(survey)
    .where(and(eq(survey.collectionId, collectionId), isNotNull(survey.summary)))
    .orderBy(desc(survey.id))
    .limit(SURVEYS);
  return rows.reverse().map(({ at, summary }) => ({
    at: at.toISOString(),
    described: summary!.described,
    decorative: summary!.decorative,
    missing: summary!.missing,
  }));
}

const GRAVE = sql`${finding.outcome} in ('failed', 'cantTell') and not ${finding.ignored}`;
const pagesOf = sql`count(distinct ${finding.pageId})`.mapWith(Number);
/** Groups whose members are gathered: the largest ones. */
const GATHERED = 60;

/** Findings at one place of a template that a person can name, where all of them are about the same words, or none. */
async function placeGroups(db: Queryable, collectionId: string, pictureOf: PictureOf): Promise<FindingGroup[]> {
  // By page first: counting what is distinct among everything would sort it all.
  const byPage = db
    .select({
      place: appearance.place,
      rule: finding.rule,
      first: sql<string>`min(coalesce(${appearance.wordsKey}, ''))`.as('first'),
      last: sql<string>`max(coalesce(${appearance.wordsKey}, ''))`.as('last'),
    })
    .from(finding)
    .innerJoin(appearance, eq(appearance.id, finding.appearanceId))
    .where(and(eq(finding.collectionId, collectionId), GRAVE))
    .groupBy(appearance.place, finding.rule, finding.pageId)
    .as('by_page');
  const rows = await db
    .select({ key: byPage.place, rule: byPage.rule, pages: sql`count(*)`.mapWith(Number) })
    .from(byPage)
    .groupBy(byPage.place, byPage.rule)
    .having(sql`min(${byPage.first}) = max(${byPage.last}) and count(*) >= ${LEAST_PAGES}`)
    .orderBy(sql`3 desc`, byPage.place, byPage.rule);
  const named = rows.filter((r) => placeName(r.key) !== null).slice(0, GATHERED);
  return gathered(db, collectionId, 'place', named, pictureOf, (r) => eq(appearance.place, r.key));
}

async function pictureGroups(db: Queryable, collectionId: string, pictureOf: PictureOf): Promise<FindingGroup[]> {
  const rows = await db
    .select({ key: finding.pictureId, rule: finding.rule, pages: pagesOf })
    .from(finding)
    .innerJoin(picture, eq(picture.id, finding.pictureId))
    // A picture on fewer pages has no group that is large enough.
    .where(and(eq(finding.collectionId, collectionId), GRAVE, sql`${picture.reach} >= ${LEAST_PAGES}`))
    .groupBy(finding.pictureId, finding.rule)
    .having(sql`count(distinct ${finding.pageId}) >= ${LEAST_PAGES}`)
    .orderBy(sql`3 desc`, finding.pictureId, finding.rule)
    .limit(GATHERED);
  return gathered(db, collectionId, 'picture', rows, pictureOf, (r) => eq(finding.pictureId, r.key));
}

/** The picture of each appearance that a group has. */
type PictureOf = Map<number, number>;

/** Groups with the appearances that belong to them, whose pictures are noted. */
async function gathered<R extends { key: string | number; rule: string; pages: number }>(
  db: Queryable,
  collectionId: string,
  kind: FindingGroup['kind'],
  rows: readonly R[],
  pictureOf: PictureOf,
  belongs: (row: R) => SQL,
): Promise<FindingGroup[]> {
  const out: FindingGroup[] = [];
  for (const row of rows) {
    const members = await db
      .selectDistinct({ id: finding.appearanceId, pictureId: finding.pictureId })
      .from(finding)
      .innerJoin(appearance, eq(appearance.id, finding.appearanceId))
      .where(and(eq(finding.collectionId, collectionId), eq(finding.rule, row.rule), GRAVE, belongs(row)))
      .orderBy(finding.appearanceId);
    for (const { id, pictureId } of members) pictureOf.set(id, pictureId);
    out.push({ kind, key: String(row.key), rule: row.rule, pages: row.pages, appearances: members.map((m) => m.id) });
  }
  return out;
}

async function standIn(db: Queryable, appearanceId: number): Promise<Pick<First, 'picture' | 'appearanceId'>> {
  const [row] = await db
    .select({ reading: appearance.reading, picture })
    .from(appearance)
    .innerJoin(picture, eq(picture.id, appearance.pictureId))
    .where(eq(appearance.id, appearanceId));
  const { id } = row!.picture;
  return {
    picture: { id, thumb: thumbOf(row!.picture), name: nameOf(row!.picture, row!.reading) },
    appearanceId,
  };
}
