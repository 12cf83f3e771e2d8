import { and, eq, inArray, sql, type SQL } from 'drizzle-orm';
import type { Purpose } from '@/core/appearance';
import { activeRules, auditCollection, auditGroup, auditSpot, wordsGroup } from '@/core/audit';
import { groupBy } from '@/core/group-by';
import { RULES } from '@/core/rules';
import type { Finding, Rule, Spot } from '@/core/rules/rule';
import { withWords } from '@/core/wording';
import { database, type Queryable } from '../db/database';
import { appearance, collection, finding, page, picture } from '../db/schema';
import { toPicture } from '../pictures/picture-rows';

const BATCH = 1000;

/** Appearances as the rules see them, with the accepted words in place. */
export async function spotsWhere(db: Queryable, where: SQL): Promise<(Spot & { pictureId: number })[]> {
  const rows = await db
    .select({ appearance, picture, path: page.path, lang: page.lang })
    .from(appearance)
    .innerJoin(page, eq(page.id, appearance.pageId))
    .innerJoin(picture, eq(picture.id, appearance.pictureId))
    .where(and(eq(appearance.gone, false), where))
    .orderBy(page.path, appearance.position);
  return rows.map(({ appearance: a, picture: p, path, lang }) => ({
    id: String(a.id),
    page: { path, lang },
    picture: toPicture(p),
    pictureId: p.id,
    appearance: a.words === null ? a.reading : withWords(a.reading, a.words),
    purpose: a.purpose as Purpose,
    purposeSettled: a.purposeSettled,
  }));
}

async function rulesOf(db: Queryable, collectionId: string) {
  const [row] = await db.select({ style: collection.style }).from(collection).where(eq(collection.id, collectionId));
  return activeRules(row?.style ?? {});
}

/** Audits a whole collection anew. */
export async function auditAll(collectionId: string): Promise<void> {
  const db = await database();
  const active = await rulesOf(db, collectionId);
  const spots = await spotsWhere(db, eq(appearance.collectionId, collectionId));
  const findings = auditCollection(spots, active);
  await db.transaction(async (tx) => {
    await tx.delete(finding).where(eq(finding.collectionId, collectionId));
    await insertFindings(tx, collectionId, findings, new Map(spots.map((s) => [s.id, s.pictureId])));
    await refreshPictures(tx, eq(picture.collectionId, collectionId));
  });
}

/**
 * Audits what a change of some appearances' words touches: they themselves, the appearances of the same
 * pictures, and those that say, or said before, the same.
 *
 * @param before words keys that the appearances had before the change
 */
export async function auditChanged(
  tx: Queryable,
  collectionId: string,
  appearanceIds: readonly number[],
  before: readonly string[],
): Promise<void> {
  if (appearanceIds.length === 0) return;
  const active = await rulesOf(tx, collectionId);
  const changed = await spotsWhere(tx, inArray(appearance.id, [...appearanceIds]));
  const pictureIds = [...new Set(changed.map((s) => s.pictureId))];
  const keys = [...new Set([...before, ...changed.map(wordsGroup).filter((k) => k !== null)])];
  const ofPictures = await spotsWhere(tx, inArray(appearance.pictureId, pictureIds));
  const ofWords =
    keys.length === 0
      ? []
      : await spotsWhere(tx, and(eq(appearance.collectionId, collectionId), inArray(appearance.wordsKey, keys))!);

  const findings: Finding[] = changed.flatMap((s) => auditSpot(s, active));
  for (const group of groupBy(ofPictures, (s) => s.pictureId).values())
    findings.push(...auditGroup('picture', group, active));
  for (const group of groupBy(ofWords, wordsGroup).values()) findings.push(...auditGroup('words', group, active));

  const drop = (scope: Rule['scope'], spots: readonly Spot[]) =>
    dropFindings(
      tx,
      RULES.filter((r) => r.scope === scope).map((r) => r.id),
      spots.map((s) => Number(s.id)),
    );
  await drop('appearance', changed);
  await drop('picture', ofPictures);
  await drop('words', [...ofWords, ...changed]);
  const pictureOf = new Map([...changed, ...ofPictures, ...ofWords].map((s) => [s.id, s.pictureId]));
  await insertFindings(tx, collectionId, findings, pictureOf);
  await refreshPictures(tx, inArray(picture.id, [...new Set(pictureOf.values())]));
}

async function dropFindings(tx: Queryable, rules: string[], ids: number[]): Promise<void> {
  for (let i = 0; i < ids.length; i += BATCH)
    await tx
      .delete(finding)
      .where(and(inArray(finding.rule, rules), inArray(finding.appearanceId, ids.slice(i, i + BATCH))));
}

async function insertFindings(
  tx: Queryable,
  collectionId: string,
  findings: readonly Finding[],
  pictureOf: ReadonlyMap<string, number>,
): Promise<void> {
  for (let i = 0; i < findings.length; i += BATCH)
    await tx.insert(finding).values(
      findings.slice(i, i + BATCH).map((f) => ({
        collectionId,
        pictureId: pictureOf.get(f.spot)!,
        appearanceId: Number(f.spot),
        rule: f.rule,
        outcome: f.outcome,
        message: f.message,
        spanStart: f.span?.start ?? null,
        spanEnd: f.span?.end ?? null,
        mends: f.mends ?? [],
      })),
    );
}

/** Brings the counts that lists are sorted and filtered by up to date. */
export async function refreshPictures(tx: Queryable, where: SQL): Promise<void> {
  await tx.execute(sql`
    update ${picture} set
      reach = coalesce(a.reach, 0), appearances = coalesce(a.n, 0), said = coalesce(a.said, 0),
      silent = coalesce(a.silent, 0), unsaid = coalesce(a.unsaid, 0), length = coalesce(a.length, 0),
      drafts = coalesce(d.n, 0), worst = coalesce(f.worst, 3), rules = coalesce(f.rules, '{}'),
      search = lower(coalesce(p.src, '') || ' ' || coalesce(a.words, ''))
    from ${picture} p
    left join lateral (
      select count(*) n, count(distinct page_id) reach, count(*) filter (where state = 'said') said,
        count(*) filter (where state = 'silent') silent, count(*) filter (where state = 'unsaid') unsaid,
        max(length(coalesce(words, reading->>'name'))) length,
        left(string_agg(distinct coalesce(words, reading->>'name'), ' '), 4000) words
      from ${appearance} x where x.picture_id = p.id and not x.gone
    ) a on true
    left join lateral (
      select count(distinct w.appearance_id) n from wording w
      join ${appearance} x on x.id = w.appearance_id
      where x.picture_id = p.id and not x.gone and w.state = 'draft'
    ) d on true
    left join lateral (
      select min(case outcome when 'failed' then 0 when 'cantTell' then 1 else 2 end) worst,
        array_agg(distinct rule) rules
      from ${finding} y where y.picture_id = p.id
    ) f on true
    where picture.id = p.id and ${where}`);
}
