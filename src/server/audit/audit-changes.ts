import { and, eq, inArray, not, sql } from 'drizzle-orm';
import { wordsGroup } from '@/core/rules/audit';
import { groupBy } from '@/core/group-by';
import { isSideBySide } from '@/core/model/appearance';
import { RULES } from '@/core/rules';
import type { Rule } from '@/core/rules/support/rule';
import { among } from '../db/bulk';
import { raiseChanges } from '../catalogue/collection-state';
import type { Queryable } from '../db/database';
import { appearance, picture } from '../db/schema';
import { together } from './audit-tasks';
import { findingsOf } from './audit-worker';
import { dropFindings, insertFindings } from './findings';
import { refreshPictures } from './picture-counts';
import { MOST_TOGETHER } from './portions';
import { ruleContexts, settingsOf, type StoredRuleContext } from './rule-contexts';

/** Appearances of one text up to which all of them are checked after a change; of more, no finding says how many. */
const MOST_ALIKE = 400;

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
  // An audit of everything that is under way notices, and does not write what it read before.
  await raiseChanges(tx, collectionId);
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
  const pages = [...new Set(changed.filter((s) => isSideBySide(s.appearance)).map((s) => s.pageId))];
  const besides =
    pages.length === 0 ? [] : await ruleContexts(tx, and(inArray(appearance.pageId, pages), appearance.isSideBySide)!);
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
  const touchedIds = new Set(touched.map((s) => s.id));
  const sets = new Set(rulesOfScope('words'));
  const kept = findings.filter((f) => all.has(f.context) && (!sets.has(f.rule) || touchedIds.has(f.context)));
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
 * Those that say the same. Of very many, only the ones on the changed pages are reported again (`touched`): for the others it
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
