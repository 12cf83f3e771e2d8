import { and, eq, gt, inArray, isNotNull, sql, type SQL } from 'drizzle-orm';
import { phrasesOf, wordsGroup } from '@/core/rules/audit';
import { groupBy } from '@/core/group-by';
import { RULES, withRelated } from '@/core/rules';
import type { Rule } from '@/core/rules/support/rule';
import { commonTitles } from '@/core/words/page-title';
import { among } from '../db/bulk';
import { collectionTransaction, database, type Database, type Queryable } from '../db/database';
import { appearance, collection, finding, page, picture } from '../db/schema';
import { together, type AuditTask } from './audit-tasks';
import { findingsOf } from './audit-worker';
import { dropFindings, insertFindings } from './findings';
import { refreshPictures } from './picture-counts';
import { portionsOf, windows, type GroupColumn } from './portions';
import { markThumbnails } from './thumbnails';
import { ruleContexts, settingsOf, type StoredRuleContext } from './rule-contexts';

/** Rises when rules, or what a finding holds, change: every collection is then audited once more at the next start. */
export const AUDIT_VERSION = 6;
/** Appearances that are audited together; more take memory, and are not faster. */
const WINDOW = 1000;

export interface AuditOptions {
  /** How many appearances are audited together. */
  window?: number;
  /** Ids of the rules that are asked again; all when not given. */
  only?: readonly string[];
  /** Called with the share that is done, from 0 to 1. */
  progress?(share: number): void;
}

/**
 * Audits a whole collection again, in windows, so that neither memory nor the time for which others have to wait grows
 * with it.
 */
export async function auditAll(
  collectionId: string,
  { window = WINDOW, only: wanted, progress = () => undefined }: AuditOptions = {},
): Promise<void> {
  const only = wanted && withRelated(wanted);
  const db = await database();
  const asked = (...scopes: Rule['scope'][]) =>
    RULES.filter((r) => scopes.includes(r.scope) && (!only || only.includes(r.id))).map((r) => r.id);
  if (asked('appearance').includes('boilerplate')) await countPhrases(db, collectionId);
  if (!only) await markThumbnails(db, collectionId);
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
      among: and(present, appearance.isSideBySide)!,
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
  const passes = scopes.filter((p) => p.rules.length > 0);
  for (const [i, pass] of passes.entries())
    await auditPass(db, collectionId, settings, pass, window, (share) => progress((i + share) / passes.length));
  const all = await db.select({ key: picture.id }).from(picture).where(eq(picture.collectionId, collectionId));
  for (const ids of windows(
    all.map(({ key }) => ({ key, n: 1 })),
    window,
  ))
    await collectionTransaction(collectionId, (tx) => refreshPictures(tx, among(picture.id, ids)));
  if (!only) await db.update(collection).set({ auditVersion: AUDIT_VERSION }).where(eq(collection.id, collectionId));
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

async function auditPass(
  db: Database,
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
        const before = await changesOf(db, collectionId);
        const contexts = await ruleContexts(db, where);
        const findings = await findingsOf({ ...settings, ...task(contexts) });
        const written = await collectionTransaction(collectionId, async (tx) => {
          // Words that were saved meanwhile are not judged by those before.
          if ((await changesOf(tx, collectionId, true)) !== before) return false;
          if (column === appearance.pictureId && isWhole)
            await tx
              .delete(finding)
              .where(and(inArray(finding.pictureId, chosen as number[]), inArray(finding.rule, rules)));
          // What somebody's change has found meanwhile is not found twice.
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

/** How often people have changed words, purposes or the house style of a collection; `lock` holds further changes back until the transaction ends. */
async function changesOf(db: Queryable, collectionId: string, lock = false): Promise<number | undefined> {
  const query = db.select({ changes: collection.changes }).from(collection).where(eq(collection.id, collectionId));
  const [row] = await (lock ? query.for('share') : query);
  return row?.changes;
}

/** Counts again what opens or closes too many texts; tells whether that is something else than before. */
export async function countPhrases(db: Queryable, collectionId: string): Promise<boolean> {
  const { style, phrases: before } = await settingsOf(db, collectionId);
  const phrases = phrasesOf(await differentTexts(db, collectionId), style);
  const titles = await db.select({ title: page.title }).from(page).where(eq(page.collectionId, collectionId));
  await db
    .update(collection)
    .set({ phrases, commonTitles: commonTitles(titles.map((t) => t.title)) })
    .where(eq(collection.id, collectionId));
  const asText = (of: typeof phrases) => JSON.stringify(of.map(({ at, words }) => [at, words]).sort());
  return asText(phrases) !== asText(before);
}

/** Appearances whose texts are read at a time, so that who saves meanwhile does not wait for all of them. */
const TEXTS_AT_A_TIME = 4_000;

/** The keys of all texts of a collection, each once. */
async function differentTexts(db: Queryable, collectionId: string): Promise<string[]> {
  const texts = new Set<string>();
  for (let last = 0; ;) {
    const rows = await db
      .select({ id: appearance.id, words: appearance.wordsKey })
      .from(appearance)
      .where(and(eq(appearance.collectionId, collectionId), eq(appearance.gone, false), gt(appearance.id, last)))
      .orderBy(appearance.id)
      .limit(TEXTS_AT_A_TIME);
    for (const { words } of rows) if (words !== null) texts.add(words);
    const end = rows.at(-1);
    if (!end || rows.length < TEXTS_AT_A_TIME) return [...texts];
    last = end.id;
  }
}
