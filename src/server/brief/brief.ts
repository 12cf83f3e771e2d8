import { and, eq, inArray, sql } from 'drizzle-orm';
import type { Brief, First } from '@/contract/brief';
import { LEAST_PAGES, placeName, rollUps, type FindingGroup } from '@/core/brief/roll-ups';
import { shelfLine, type Collection } from '../collections/collections';
import { database, type Queryable } from '../db/database';
import { appearance, finding, picture } from '../db/schema';
import { galleyLines, nameOf } from '../pictures/lines';

const SHOWN = 6;
/** Lines of the Galley among which the single pictures are looked for. */
const CANDIDATES = 60;

/** Everything that the front page of a collection says. */
export async function brief(c: Collection): Promise<Brief> {
  const db = await database();
  const { pictures, said, silent, unsaid, doubtful } = await shelfLine(c);
  const groups = [...(await placeGroups(db, c.id)), ...(await pictureGroups(db, c.id))];
  const found = rollUps(groups).slice(0, SHOWN);
  const first: First[] = [];
  for (const { kind, key, rules, appearances, pages } of found) {
    const shown = await standIn(db, appearances[0]!);
    first.push({
      kind,
      place: kind === 'place' ? placeName(key) : null,
      rules,
      places: appearances.length,
      pages,
      ...shown,
    });
  }
  const mended = await picturesAt(
    db,
    found.flatMap((r) => r.appearances),
  );
  if (first.length < SHOWN) {
    const { lines } = await galleyLines(c.id, { state: 'doubtful', rule: 'any', q: '', sort: 'reach' }, 0, CANDIDATES);
    for (const l of lines.filter((l) => !mended.has(l.id)).slice(0, SHOWN - first.length))
      first.push({
        kind: 'single',
        place: null,
        rules: l.notes.filter((n) => n.outcome !== 'advice').map((n) => n.rule),
        places: l.appearances,
        pages: l.reach,
        picture: { id: l.id, name: l.name, thumb: l.thumb },
        appearanceId: l.appearanceId,
      });
  }
  const settles = mended.size + first.filter((f) => f.kind === 'single').length;
  const rules = await db
    .select({
      rule: finding.rule,
      outcome: sql<
        Brief['rules'][number]['outcome']
      >`(array_agg(${finding.outcome} order by case ${finding.outcome} when 'failed' then 0 when 'cantTell' then 1 else 2 end))[1]`,
      pictures: sql`count(distinct ${finding.pictureId})`.mapWith(Number),
    })
    .from(finding)
    .where(eq(finding.collectionId, c.id))
    .groupBy(finding.rule)
    .orderBy(sql`3 desc`, finding.rule);
  return { pictures, said, silent, unsaid, doubtful, first, settles, rules };
}

const GRAVE = sql`${finding.outcome} in ('failed', 'cantTell')`;
const pagesOf = sql`count(distinct ${appearance.pageId})`.mapWith(Number);
const idsOf = sql<number[]>`array_agg(distinct ${appearance.id} order by ${appearance.id})`;

/** Findings at one place of a template that a person can name, where all of them are about the same words, or none. */
async function placeGroups(db: Queryable, collectionId: string): Promise<FindingGroup[]> {
  const place = sql<string>`${appearance.reading}->>'place'`;
  const rows = await db
    .select({ key: place, rule: finding.rule, appearances: idsOf, pages: pagesOf })
    .from(finding)
    .innerJoin(appearance, eq(appearance.id, finding.appearanceId))
    .where(and(eq(finding.collectionId, collectionId), eq(appearance.gone, false), GRAVE))
    .groupBy(place, finding.rule)
    .having(
      sql`count(distinct ${appearance.pageId}) >= ${LEAST_PAGES} and count(distinct coalesce(${appearance.wordsKey}, '')) = 1`,
    );
  return rows.filter((r) => placeName(r.key) !== null).map((r) => ({ ...r, kind: 'place' as const }));
}

async function pictureGroups(db: Queryable, collectionId: string): Promise<FindingGroup[]> {
  const rows = await db
    .select({ key: finding.pictureId, rule: finding.rule, appearances: idsOf, pages: pagesOf })
    .from(finding)
    .innerJoin(appearance, eq(appearance.id, finding.appearanceId))
    .where(and(eq(finding.collectionId, collectionId), eq(appearance.gone, false), GRAVE))
    .groupBy(finding.pictureId, finding.rule)
    .having(sql`count(distinct ${appearance.pageId}) >= ${LEAST_PAGES}`);
  return rows.map((r) => ({ ...r, key: String(r.key), kind: 'picture' as const }));
}

async function standIn(db: Queryable, appearanceId: number): Promise<Pick<First, 'picture' | 'appearanceId'>> {
  const [row] = await db
    .select({ reading: appearance.reading, picture })
    .from(appearance)
    .innerJoin(picture, eq(picture.id, appearance.pictureId))
    .where(eq(appearance.id, appearanceId));
  const { id, thumb } = row!.picture;
  return { picture: { id, thumb, name: nameOf(row!.picture, row!.reading) }, appearanceId };
}

async function picturesAt(db: Queryable, appearanceIds: number[]): Promise<Set<number>> {
  if (appearanceIds.length === 0) return new Set();
  const rows = await db
    .selectDistinct({ id: appearance.pictureId })
    .from(appearance)
    .where(inArray(appearance.id, appearanceIds));
  return new Set(rows.map((r) => r.id));
}
