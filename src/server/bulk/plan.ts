import { and, eq, sql } from 'drizzle-orm';
import type { BulkPreview, BulkWork, LeftOut } from '@/contract/bulk';
import type { Target } from '@/contract/target';
import { hasGaps } from '@/core/draft/draft';
import { groupBy } from '@/core/group-by';
import { replaceIn } from '@/core/words/replace';
import { ownTitle } from '@/core/words/page-title';
import { titlesOf } from '../audit/rule-contexts';
import { nameOf } from '../catalogue/lines';
import { among } from '../db/bulk';
import { database, type Queryable } from '../db/database';
import { appearance, finding, picture, wording } from '../db/schema';
import { placesOf, type TargetPlace } from '../wordings/targets';

/** What a bulk act does where: fixed before it begins, because what it does changes what a view holds. */
export interface Plan {
  /** The places, in order. */
  ids: number[];
  leftOut: { why: LeftOut; ids: number[] }[];
}

/** Different texts that a preview shows. */
const SHOWN = 200;

/** Where a bulk act would do something, and where not, with the reason. */
export async function planOf(collectionId: string, target: Target, work: BulkWork): Promise<Plan> {
  const db = await database();
  const places = await placesOf(collectionId, target);
  const all = places.map((p) => p.id);
  const split = (why: LeftOut, keeps: (p: TargetPlace) => boolean, of = places) => ({
    kept: of.filter(keeps),
    out: { why, ids: of.filter((p) => !keeps(p)).map((p) => p.id) },
  });
  const only = async (why: LeftOut, ids: Promise<{ has(id: number): boolean }>): Promise<Plan> => {
    const found = await ids;
    const { kept, out } = split(why, (p) => found.has(p.id));
    return { ids: kept.map((p) => p.id), leftOut: [out] };
  };
  switch (work.kind) {
    case 'decorative': {
      const nameless = split('names-control', (p) => !p.namesControl);
      const rest = split('decorative-already', (p) => p.state !== 'decorative', nameless.kept);
      return { ids: rest.kept.map((p) => p.id), leftOut: [nameless.out, rest.out] };
    }
    case 'accept': {
      const drafts = await withDraft(db, all);
      const { kept, out } = split('no-draft', (p) => drafts.has(p.id));
      const rest = split('has-gaps', (p) => !hasGaps(drafts.get(p.id)!), kept);
      return { ids: rest.kept.map((p) => p.id), leftOut: [out, rest.out] };
    }
    case 'reject':
      return only('no-draft', withDraft(db, all));
    case 'ignore':
      return only('no-finding', withFinding(db, all, work.rule));
    case 'words':
      return only('says-it-already', sayingOther(db, all, work.text));
    case 'page-title': {
      const named = new Map((await pageTitles(db, collectionId, all)).map((t) => [t.id, t]));
      const { kept, out } = split('no-page', (p) => named.has(p.id));
      const rest = split('says-it-already', (p) => named.get(p.id)!.before !== named.get(p.id)!.after, kept);
      return { ids: rest.kept.map((p) => p.id), leftOut: [out, rest.out] };
    }
    case 'purpose':
      return { ids: all, leftOut: [] };
    case 'replace': {
      const texts = await replacedTexts(db, all, work);
      return { ids: texts.map((t) => t.id), leftOut: [] };
    }
  }
}

/** The drafts that wait at some places, by place. */
async function withDraft(db: Queryable, ids: readonly number[]): Promise<Map<number, string>> {
  const rows = await db
    .select({ id: wording.appearanceId, text: wording.text })
    .from(wording)
    .where(and(among(wording.appearanceId, ids), eq(wording.state, 'draft')));
  return new Map(rows.map((r) => [r.id, r.text ?? '']));
}

async function withFinding(db: Queryable, ids: readonly number[], rule: string): Promise<Set<number>> {
  const rows = await db
    .selectDistinct({ id: finding.appearanceId })
    .from(finding)
    .where(and(among(finding.appearanceId, ids), eq(finding.rule, rule), eq(finding.ignored, false)));
  return new Set(rows.map((r) => r.id));
}

async function sayingOther(db: Queryable, ids: readonly number[], text: string): Promise<Set<number>> {
  const said = sql`coalesce(${appearance.words}, ${appearance.reading}->'markup'->>'alt')`;
  const rows = await db
    .select({ id: appearance.id })
    .from(appearance)
    .where(and(among(appearance.id, ids), sql`${said} is distinct from ${text}`));
  return new Set(rows.map((r) => r.id));
}

export interface ReplacedText {
  id: number;
  before: string;
  after: string;
}

/** The text that is heard at a place, or that waits for its delivery. */
const SAID = sql<string>`coalesce(${appearance.words}, ${appearance.reading}->'markup'->>'alt', '')`;

/** The texts among places that a replacement changes. */
export async function replacedTexts(
  db: Queryable,
  ids: readonly number[],
  work: BulkWork & { kind: 'replace' },
): Promise<ReplacedText[]> {
  const rows = await db
    .select({ id: appearance.id, before: SAID })
    .from(appearance)
    .where(and(among(appearance.id, ids), sql`position(lower(${work.find}) in lower(${SAID})) > 0`))
    .orderBy(appearance.id);
  const except = new Set(work.except);
  return (
    rows
      .map(({ id, before }) => ({ id, before, after: replaceIn(before, work).trim() }))
      // An emptied text would mark the picture decorative, which is an act of its own.
      .filter(({ before, after }) => after !== before && after !== '' && !except.has(before))
  );
}

/**
 * Thumbnails among places, each with its text and the title of the page that it leads to. Of several on one page that
 * lead to the same one, none: a title that all of them share would tell none of them from the others.
 */
export async function pageTitles(db: Queryable, collectionId: string, ids: readonly number[]): Promise<ReplacedText[]> {
  const rows = await db
    .select({
      ...{ id: appearance.id, collectionId: appearance.collectionId, pageId: appearance.pageId },
      ...{ pictureId: appearance.pictureId, target: appearance.target, before: SAID },
    })
    .from(appearance)
    .where(and(eq(appearance.collectionId, collectionId), among(appearance.id, ids), eq(appearance.isThumbnail, true)))
    .orderBy(appearance.id);
  const titles = await titlesOf(db, rows);
  const way = (r: (typeof rows)[number]) => `${r.pageId} ${r.target}`;
  const pictures = groupBy(rows, way);
  return rows.flatMap((r) => {
    const title = titles.get(r.target ?? '');
    const isOnly = new Set(pictures.get(way(r))!.map((other) => other.pictureId)).size === 1;
    return title && isOnly ? [{ id: r.id, before: r.before, after: ownTitle(title) }] : [];
  });
}

/** What a bulk act would do. */
export async function previewBulk(collectionId: string, target: Target, work: BulkWork): Promise<BulkPreview> {
  const db = await database();
  const { ids, leftOut } = await planOf(collectionId, target, work);
  const writes = work.kind !== 'purpose' && work.kind !== 'ignore' && work.kind !== 'reject';
  const [counts] = await db
    .select({
      pictures: sql`count(distinct ${appearance.pictureId})`.mapWith(Number),
      replaced: sql`count(*) filter (where ${appearance.state} = 'described')`.mapWith(Number),
    })
    .from(appearance)
    .where(among(appearance.id, ids));
  const texts = await (work.kind === 'replace'
    ? replacedTexts(db, ids, work)
    : work.kind === 'page-title'
      ? pageTitles(db, collectionId, ids)
      : []);
  const groups = [...groupBy(texts, (t) => JSON.stringify([t.before, t.after])).values()].sort(
    (a, b) => b.length - a.length,
  );
  const names = await namesOf(
    db,
    groups.slice(0, SHOWN).map((g) => g[0]!.id),
  );
  return {
    pictures: counts!.pictures,
    places: ids.length,
    replaced: writes ? counts!.replaced : 0,
    leftOut: leftOut.filter((l) => l.ids.length > 0).map(({ why, ids: out }) => ({ why, places: out.length })),
    changes: groups.slice(0, SHOWN).map((group) => {
      const { id, before, after } = group[0]!;
      return { before, after, places: group.length, picture: names.get(id) ?? '' };
    }),
    texts: groups.length,
  };
}

async function namesOf(db: Queryable, ids: readonly number[]) {
  const rows = await db
    .select({ id: appearance.id, reading: appearance.reading, src: picture.src })
    .from(appearance)
    .innerJoin(picture, eq(picture.id, appearance.pictureId))
    .where(among(appearance.id, ids));
  return new Map(rows.map((r) => [r.id, nameOf(r, r.reading)]));
}
