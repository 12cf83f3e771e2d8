import { createHash } from 'node:crypto';
import { and, eq, inArray, isNotNull, not, or, sql, type SQL } from 'drizzle-orm';
import type { Appearance, Purpose } from '@/core/model/appearance';
import type { Picture } from '@/core/model/picture';
import { phrasesOf, wordsGroup, type RuleStyle } from '@/core/audit';
import { groupBy } from '@/core/group-by';
import { RULES } from '@/core/rules';
import type { Rule, RuleContext } from '@/core/rules/support/rule';
import type { Finding } from '@/core/model/finding';
import { heardWords } from '@/core/rules/support/words';
import { withWords } from '@/core/model/wording';
import type { Phrase } from '@/core/words/phrases';
import { among, insertRows } from '../db/bulk';
import { database, type Queryable } from '../db/database';
import { appearance, collection, finding, page, picture, pictureSource, ignoredFinding } from '../db/schema';
import { PICTURE_FACTS, toPicture } from '../catalogue/picture-rows';
import type { AuditTask } from './audit-tasks';
import { findingsOf } from './audit-worker';
import { refreshPictures } from './picture-counts';
import { MOST_TOGETHER, portionsOf, windows, type GroupColumn } from './portions';

/** Appearances that are audited together; more take memory, and are not faster. */
const WINDOW = 1000;
/** Findings in one statement. */
const FINDINGS = 5000;
/** Appearances of one text up to which all of them are looked at after a change; of more, no finding tells how many. */
const MOST_ALIKE = 400;

const ALL = 2 ** 31 - 1;

/** What may be one thing with what stands beside it or in its place: members of a run, and versions for other screens. */
const SIDE_BY_SIDE = sql`(${appearance.reading}->'context'->>'run' is not null or ${appearance.place} like '%picture%'
  or json_array_length(${appearance.reading}->'markup'->'candidates') > 0)`;
const isSideBySide = ({ appearance: a }: RuleContext) =>
  a.context.run !== null || a.context.place.includes('picture') || a.markup.candidates.length > 0;

/** A spot with its rows. */
export type StoredRuleContext = RuleContext & { pictureId: number; pageId: number };

/** Appearances as the rules see them, with the accepted words in place. */
export async function ruleContexts(db: Queryable, where: SQL, limit = ALL): Promise<StoredRuleContext[]> {
  const rows = await db
    .select({
      id: appearance.id,
      pageId: appearance.pageId,
      reading: appearance.reading,
      words: appearance.words,
      purpose: appearance.purpose,
      purposeSettled: appearance.purposeSettled,
      picture: PICTURE_FACTS,
      page: {
        path: page.path,
        lang: page.lang,
        title: page.title,
        description: page.description,
        headings: page.headings,
        directives: page.directives,
      },
      collectionId: appearance.collectionId,
      target: appearance.target,
    })
    .from(appearance)
    .innerJoin(page, eq(page.id, appearance.pageId))
    .innerJoin(picture, eq(picture.id, appearance.pictureId))
    .where(and(eq(appearance.gone, false), where))
    .orderBy(page.path, appearance.position)
    .limit(limit);
  const titles = await titlesOf(db, rows);
  const variants = await variantsOf(db, rows);
  return rows.map(({ id, reading, words, purpose, picture: p, collectionId: _, target, ...row }) => ({
    ...row,
    targetTitle: titles.get(target ?? '') ?? null,
    id: String(id),
    picture: toPicture(p),
    pictureId: p.id,
    variants: reading.markup.candidates
      .flatMap((c) => variants.get(c.address ?? '') ?? [])
      .filter((v) => v.id !== String(p.id)),
    appearance: words === null ? reading : withWords(reading, words),
    purpose: purpose as Purpose,
  }));
}

/** Pictures that are candidates (`srcset`) of appearances, by address. */
async function variantsOf(
  db: Queryable,
  rows: readonly { collectionId: string; reading: Appearance }[],
): Promise<Map<string, Picture>> {
  const addresses = [...new Set(rows.flatMap((r) => r.reading.markup.candidates.flatMap((c) => c.address ?? [])))];
  if (addresses.length === 0) return new Map();
  const found = await db
    .select({ address: pictureSource.address, picture: PICTURE_FACTS })
    .from(pictureSource)
    .innerJoin(picture, eq(picture.id, pictureSource.pictureId))
    .where(and(eq(pictureSource.collectionId, rows[0]!.collectionId), inArray(pictureSource.address, addresses)));
  return new Map(found.map((f) => [f.address, toPicture(f.picture)]));
}

/** Titles of the pages that links lead to, by path. A join would be planned without knowing how few these are. */
async function titlesOf(
  db: Queryable,
  rows: readonly { collectionId: string; target: string | null }[],
): Promise<Map<string, string>> {
  const paths = [...new Set(rows.flatMap((r) => r.target ?? []))];
  if (paths.length === 0) return new Map();
  const found = await db
    .select({ path: page.path, title: page.title })
    .from(page)
    .where(and(eq(page.collectionId, rows[0]!.collectionId), inArray(page.path, paths)));
  return new Map(found.map((f) => [f.path, f.title]));
}

async function settingsOf(db: Queryable, collectionId: string): Promise<{ style: RuleStyle; phrases: Phrase[] }> {
  const [row] = await db
    .select({ style: collection.style, phrases: collection.phrases })
    .from(collection)
    .where(eq(collection.id, collectionId));
  return row ?? { style: {}, phrases: [] };
}

export interface AuditOptions {
  /** How many appearances are audited together. */
  window?: number;
  /** Ids of the rules that are asked anew; all when not given. */
  only?: readonly string[];
  /** Called with the share that is done, from 0 to 1. */
  progress?(share: number): void;
}

/**
 * Audits a whole collection anew, in windows, so that neither memory nor the time for which others have to wait grows
 * with it.
 */
export async function auditAll(
  collectionId: string,
  { window = WINDOW, only, progress = () => undefined }: AuditOptions = {},
): Promise<void> {
  const db = await database();
  const asked = (...scopes: Rule['scope'][]) =>
    RULES.filter((r) => scopes.includes(r.scope) && (!only || only.includes(r.id))).map((r) => r.id);
  if (asked('appearance').includes('boilerplate')) await countPhrases(db, collectionId);
  const settings = { ...(await settingsOf(db, collectionId)), only: only ?? null };
  const present = and(eq(appearance.collectionId, collectionId), eq(appearance.gone, false))!;
  await db.execute(sql`delete from ${finding} using ${appearance}
    where ${finding.collectionId} = ${collectionId} and ${appearance.id} = ${finding.appearanceId} and ${appearance.gone}`);

  const scopes: Pass[] = [
    {
      rules: asked('appearance', 'picture'),
      column: appearance.pictureId,
      among: present,
      task: (contexts) => ({
        contexts,
        groups: together(
          'picture',
          groupBy(contexts, (s) => s.pictureId),
        ),
      }),
    },
    {
      rules: asked('page'),
      column: appearance.pageId,
      among: and(present, SIDE_BY_SIDE)!,
      task: (contexts) => ({
        contexts: [],
        groups: together(
          'page',
          groupBy(contexts, (s) => s.pageId),
        ),
      }),
    },
    {
      rules: asked('words'),
      column: appearance.wordsKey,
      among: and(present, isNotNull(appearance.wordsKey))!,
      // The same words are of interest where several pictures have them.
      having: sql`count(distinct ${appearance.pictureId}) > 1`,
      task: (contexts) => ({ contexts: [], groups: together('words', groupBy(contexts, wordsGroup)) }),
    },
  ];
  const wanted = scopes.filter((p) => p.rules.length > 0);
  for (const [i, pass] of wanted.entries())
    await auditPass(db, collectionId, settings, pass, window, (share) => progress((i + share) / wanted.length));
  const all = await db.select({ key: picture.id }).from(picture).where(eq(picture.collectionId, collectionId));
  for (const ids of windows(
    all.map(({ key }) => ({ key, n: 1 })),
    window,
  ))
    await refreshPictures(db, inArray(picture.id, ids));
  // The embedded database has nobody who does it by himself, and lists get slower with every version that is left behind.
  await db.execute(sql`vacuum (analyze) ${picture}, ${finding}, ${appearance}`);
}

/** One way through a collection: by picture, by page or by words. */
interface Pass {
  rules: string[];
  column: GroupColumn;
  among: SQL;
  /** Which groups are of interest; all when not given. */
  having?: SQL;
  task(contexts: readonly StoredRuleContext[]): Pick<AuditTask, 'contexts' | 'groups'>;
}

/** Groups as an audit task takes them; what belongs to no group is left out. */
export const together = (scope: 'picture' | 'page' | 'words', groups: ReadonlyMap<unknown, readonly RuleContext[]>) =>
  [...groups].flatMap(([key, contexts]) => (key === null ? [] : [{ scope, contexts }]));

async function auditPass(
  db: Awaited<ReturnType<typeof database>>,
  collectionId: string,
  settings: Omit<AuditTask, 'contexts' | 'groups'>,
  { rules, column, among, having, task }: Pass,
  window: number,
  progress: (share: number) => void,
): Promise<void> {
  const keys = await db
    .select({ key: sql<string | number>`${column}`, n: sql`count(*)`.mapWith(Number) })
    .from(appearance)
    .where(among)
    .groupBy(column)
    .having(having)
    .orderBy(column);
  const total = keys.reduce((sum, { n }) => sum + n, 0);
  let done = 0;
  if (column === appearance.wordsKey || column === appearance.pageId)
    await db.delete(finding).where(and(eq(finding.collectionId, collectionId), inArray(finding.rule, rules)));
  const portions = portionsOf(db, column, among, windows(keys, window));
  const work = async () => {
    for await (const { chosen, where, isWhole } of portions) {
      for (;;) {
        const before = changes.get(collectionId);
        const contexts = await ruleContexts(db, where);
        const findings = await findingsOf({ ...settings, ...task(contexts) });
        const written = await db.transaction(async (tx) => {
          // Words that were kept meanwhile are not judged by those before.
          if (changes.get(collectionId) !== before) return false;
          if (column === appearance.pictureId && isWhole)
            await tx
              .delete(finding)
              .where(and(inArray(finding.pictureId, chosen as number[]), inArray(finding.rule, rules)));
          // What somebody's change has found meanwhile is not told twice.
          else await dropFindings(tx, [{ rules, contexts }]);
          await insertFindings(tx, collectionId, findings, contexts);
          return true;
        });
        done += written ? contexts.length : 0;
        if (written) break;
      }
      progress(total === 0 ? 1 : done / total);
    }
  };
  // While one portion is read or written, another is looked at.
  await Promise.all([work(), work()]);
}

const shared = globalThis as typeof globalThis & { dettoChanges?: Map<string, number> };
/** Counts what people change while an audit is under way, by collection, across the bundles that Next makes of the server. */
const changes = (shared.dettoChanges ??= new Map<string, number>());

/** Counts anew what opens or closes too many texts; tells whether that is something else than before. */
export async function countPhrases(db: Queryable, collectionId: string): Promise<boolean> {
  const { style, phrases: before } = await settingsOf(db, collectionId);
  const rows = await db
    .selectDistinct({ words: appearance.wordsKey })
    .from(appearance)
    .where(and(eq(appearance.collectionId, collectionId), eq(appearance.gone, false), isNotNull(appearance.wordsKey)));
  const phrases = phrasesOf(
    rows.map((r) => r.words!),
    style,
  );
  await db.update(collection).set({ phrases }).where(eq(collection.id, collectionId));
  const told = (of: typeof phrases) => JSON.stringify(of.map(({ at, words }) => [at, words]).sort());
  return told(phrases) !== told(before);
}

const rulesOfScope = (...scopes: Rule['scope'][]) => RULES.filter((r) => scopes.includes(r.scope)).map((r) => r.id);

/**
 * Audits what a change of some appearances' words touches: they themselves, the appearances of the same
 * pictures, those beside them, and those that say, or said before, the same.
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
  changes.set(collectionId, (changes.get(collectionId) ?? 0) + 1);
  const settings = await settingsOf(tx, collectionId);
  const ids = new Set(appearanceIds.map(String));
  const touchedPictures = await tx
    .selectDistinct({ id: picture.id, appearances: picture.appearances })
    .from(appearance)
    .innerJoin(picture, eq(picture.id, appearance.pictureId))
    .where(among(appearance.id, appearanceIds));
  const wide = touchedPictures.filter((p) => p.appearances > MOST_TOGETHER).map((p) => p.id);
  const others = touchedPictures.filter((p) => p.appearances <= MOST_TOGETHER).map((p) => p.id);
  const ofPictures = others.length === 0 ? [] : await ruleContexts(tx, among(appearance.pictureId, others));
  const changed = ofPictures.filter((s) => ids.has(s.id));
  // Of a picture that stands in very many places, the changed ones and the first are looked at.
  for (const id of wide) {
    const own = eq(appearance.pictureId, id);
    const here = await ruleContexts(tx, and(own, among(appearance.id, appearanceIds))!);
    const first = await ruleContexts(tx, and(own, not(among(appearance.id, appearanceIds)))!, MOST_TOGETHER);
    for (const context of here) changed.push(context);
    for (const context of [...here, ...first]) ofPictures.push(context);
  }
  const pages = [...new Set(changed.filter(isSideBySide).map((s) => s.pageId))];
  const besides =
    pages.length === 0 ? [] : await ruleContexts(tx, and(inArray(appearance.pageId, pages), SIDE_BY_SIDE)!);
  const keys = [...new Set([...before, ...changed.map(wordsGroup).filter((k) => k !== null)])];
  const shared = await sharedKeys(tx, collectionId, keys, changed);
  const alike = await Promise.all(shared.map((key) => contextsWithSameWords(tx, collectionId, key, changed)));

  const touched = alike.flatMap((a) => a.touched);
  const [findings] = await Promise.all([
    findingsOf(
      {
        ...settings,
        only: null,
        contexts: changed,
        groups: [
          ...together(
            'picture',
            groupBy(ofPictures, (s) => s.pictureId),
          ),
          ...together(
            'page',
            groupBy(besides, (s) => s.pageId),
          ),
          ...alike.map(({ contexts }) => ({ scope: 'words' as const, contexts })),
        ],
      },
      true,
    ),
    dropFindings(tx, [
      { rules: rulesOfScope('appearance'), contexts: changed },
      { rules: rulesOfScope('picture'), contexts: ofPictures },
      { rules: rulesOfScope('page'), contexts: besides },
      { rules: rulesOfScope('words'), contexts: [...touched, ...changed] },
    ]),
  ]);
  const all = new Map([...changed, ...ofPictures, ...besides, ...touched].map((s) => [s.id, s]));
  const told = new Set(touched.map((s) => s.id));
  const sets = new Set(rulesOfScope('words'));
  const kept = findings.filter((f) => all.has(f.context) && (!sets.has(f.rule) || told.has(f.context)));
  await insertFindings(tx, collectionId, kept, [...all.values()]);
  await refreshPictures(tx, inArray(picture.id, [...new Set([...all.values()].map((s) => s.pictureId))]));
}

/** Those among words keys that several appearances have, or another than the changed ones; most words stand alone. */
async function sharedKeys(
  tx: Queryable,
  collectionId: string,
  keys: readonly string[],
  changed: readonly StoredRuleContext[],
): Promise<string[]> {
  if (keys.length === 0) return [];
  const now = groupBy(changed, wordsGroup);
  const { rows } = (await tx.execute(sql`
    select key from unnest(${sql.param(keys)}::text[]) key where exists (
      select from ${appearance} where collection_id = ${collectionId} and md5(words_key) = md5(key) and words_key = key
        and not gone
        and id <> all(${sql.param(changed.map((s) => Number(s.id)))}::int[]))`)) as unknown as {
    rows: { key: string }[];
  };
  const elsewhere = new Set(rows.map((r) => r.key));
  return keys.filter((key) => elsewhere.has(key) || (now.get(key)?.length ?? 0) > 1);
}

/**
 * Those that say the same. Of very many, only the ones on the changed pages are told anew (`touched`): for the others it
 * makes no difference how many more there are.
 */
async function contextsWithSameWords(
  tx: Queryable,
  collectionId: string,
  key: string,
  changed: readonly StoredRuleContext[],
): Promise<{ contexts: StoredRuleContext[]; touched: StoredRuleContext[] }> {
  const same = and(
    eq(appearance.collectionId, collectionId),
    sql`md5(${appearance.wordsKey}) = md5(${key})`,
    eq(appearance.wordsKey, key),
  )!;
  const contexts = await ruleContexts(tx, same, MOST_ALIKE + 1);
  if (contexts.length <= MOST_ALIKE) return { contexts, touched: contexts };
  const pages = [...new Set(changed.map((s) => s.pageId))];
  const touched = await ruleContexts(tx, and(same, inArray(appearance.pageId, pages))!);
  const known = new Set(touched.map((s) => s.id));
  return { contexts: [...touched, ...contexts.filter((s) => !known.has(s.id))], touched };
}

/** Drops what some rules had found at some spots, in one statement, because each costs a round trip. */
async function dropFindings(
  tx: Queryable,
  found: readonly { rules: readonly string[]; contexts: readonly RuleContext[] }[],
): Promise<void> {
  const some = found.filter(({ contexts }) => contexts.length > 0);
  if (some.length === 0) return;
  const each = some.map(({ rules, contexts }) => {
    const ids = contexts.map((s) => Number(s.id));
    return and(inArray(finding.rule, [...rules]), among(finding.appearanceId, ids));
  });
  await tx.delete(finding).where(or(...each));
}

async function insertFindings(
  tx: Queryable,
  collectionId: string,
  findings: readonly Finding[],
  contexts: readonly StoredRuleContext[],
): Promise<void> {
  const at = new Map(contexts.map((s) => [s.id, s]));
  const ignored = await ignoredAmong(
    tx,
    findings.map((f) => Number(f.context)),
  );
  for (let i = 0; i < findings.length; i += FINDINGS)
    await insertRows(
      tx,
      finding,
      findings.slice(i, i + FINDINGS).map((f) => ({
        collectionId,
        pictureId: at.get(f.context)!.pictureId,
        appearanceId: Number(f.context),
        pageId: at.get(f.context)!.pageId,
        rule: f.rule,
        outcome: f.outcome,
        message: f.message,
        spanStart: f.span?.start ?? null,
        spanEnd: f.span?.end ?? null,
        fixes: f.fixes ?? [],
        ignored: ignored.get(`${f.context} ${f.rule}`) === basisOf(at.get(f.context)!),
      })),
    );
}

/** What a finding that was set aside was about: the words and the picture. */
export function basisOf({ appearance: a, picture: p }: RuleContext): string {
  const about = JSON.stringify([a.state, heardWords(a), p?.sha256 ?? p?.src ?? null]);
  return createHash('sha256').update(about).digest('hex').slice(0, 40);
}

/** By appearance and rule, what the findings that were set aside were about; the last word counts. */
async function ignoredAmong(tx: Queryable, ids: readonly number[]): Promise<Map<string, string>> {
  if (ids.length === 0) return new Map();
  const rows = await tx
    .select({ id: ignoredFinding.appearanceId, rule: ignoredFinding.rule, basis: ignoredFinding.basis })
    .from(ignoredFinding)
    .where(among(ignoredFinding.appearanceId, [...new Set(ids)]))
    .orderBy(ignoredFinding.id);
  return new Map(rows.map(({ id, rule, basis }) => [`${id} ${rule}`, basis]));
}
