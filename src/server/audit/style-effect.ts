import { and, desc, eq, inArray, sql } from 'drizzle-orm';
import type { StyleEffect, StyleEffects } from '@/contract/house-style';
import { phrasesOf, wordsGroup, type RuleStyle } from '@/core/rules/audit';
import { groupBy } from '@/core/group-by';
import { changedRules } from '@/core/house-style/house-style';
import { ruleById } from '@/core/rules';
import type { Finding } from '@/core/model/finding';
import { heardWords, languageOf } from '@/core/rules/support/words';
import { normalise } from '@/core/words/graphemes';
import type { Collection } from '../catalogue/collections';
import { database } from '../db/database';
import { appearance, picture } from '../db/schema';
import { together } from './audit-tasks';
import { ruleContexts, type StoredRuleContext } from './rule-contexts';
import { findingsOf } from './audit-worker';

/** Pictures that are looked at together. */
const PORTION = 500;
/** Milliseconds after which the effect is reported of what was looked at so far. */
const PATIENCE = 1500;
const EXAMPLES = 3;

interface Tally {
  before: Set<string>;
  after: Set<string>;
  examples: StyleEffect['examples'];
}

/**
 * What a house style would find otherwise than the one that is kept, counted on the collection's own texts and pictures,
 * the furthest-reaching first.
 */
export async function styleEffect(c: Collection, style: RuleStyle): Promise<StyleEffects> {
  const db = await database();
  const rules = changedRules(c.style, style);
  const tallies = new Map<string, Tally>(rules.map((r) => [r, { before: new Set(), after: new Set(), examples: [] }]));
  const present = and(eq(appearance.collectionId, c.id), eq(appearance.gone, false))!;
  const [{ of } = { of: 0 }] = await db
    .select({ of: sql`count(*)`.mapWith(Number) })
    .from(appearance)
    .where(present);
  const effectsOf = (counted: number): StyleEffects => ({
    effects: [...tallies].map(effectFrom),
    counted,
    of,
  });
  if (rules.length === 0) return effectsOf(of);

  const { vocabulary } = c;
  const before = { style: c.style, phrases: c.phrases, vocabulary };
  const after = {
    style,
    phrases: rules.includes('boilerplate') ? await phrasesIf(c.id, style) : c.phrases,
    vocabulary,
  };
  const pictures = await db
    .select({ id: picture.id })
    .from(picture)
    .where(and(eq(picture.collectionId, c.id), sql`${picture.appearances} > 0`))
    .orderBy(desc(picture.reach), picture.id);
  const started = performance.now();
  let counted = 0;
  for (let i = 0; i < pictures.length && performance.now() - started < PATIENCE; i += PORTION) {
    const ids = pictures.slice(i, i + PORTION).map((p) => p.id);
    const contexts = await ruleContexts(db, and(present, inArray(appearance.pictureId, ids))!);
    const groups = [
      ...together(
        'picture',
        groupBy(contexts, (s) => s.pictureId),
      ),
      ...together(
        'page',
        groupBy(contexts, (s) => s.pageId),
      ),
      ...together('words', groupBy(contexts, wordsGroup)),
    ];
    const asked = { only: rules, contexts, groups };
    tally(tallies, contexts, await findingsOf({ ...asked, ...before }), await findingsOf({ ...asked, ...after }));
    counted += contexts.length;
  }
  return effectsOf(counted);
}

/** Rules on words are counted by text, the others by picture. */
const countsTexts = (rule: string) => ruleById(rule)!.group === 'words';

function tally(
  tallies: ReadonlyMap<string, Tally>,
  contexts: readonly StoredRuleContext[],
  before: readonly Finding[],
  after: readonly Finding[],
): void {
  const at = new Map(contexts.map((s) => [s.id, s]));
  const counted = (f: Finding, context: StoredRuleContext) =>
    (countsTexts(f.rule) ? wordsGroup(context) : null) ?? `picture ${context.pictureId}`;
  for (const f of before) tallies.get(f.rule)!.before.add(counted(f, at.get(f.context)!));
  for (const f of after) {
    const own = tallies.get(f.rule)!;
    const context = at.get(f.context)!;
    const key = counted(f, context);
    if (!own.before.has(key) && !own.after.has(key) && own.examples.length < EXAMPLES)
      own.examples.push({
        text: normalise(heardWords(context.appearance) ?? ''),
        lang: languageOf(context),
        message: f.message,
      });
    own.after.add(key);
  }
}

function effectFrom([rule, { before, after, examples }]: readonly [string, Tally]): StyleEffect {
  return {
    rule,
    counts: countsTexts(rule) ? 'texts' : 'pictures',
    before: before.size,
    after: after.size,
    examples,
  };
}

/** What would open or close too many texts under another style. */
async function phrasesIf(collectionId: string, style: RuleStyle) {
  const db = await database();
  const rows = await db
    .selectDistinct({ words: appearance.wordsKey })
    .from(appearance)
    .where(and(eq(appearance.collectionId, collectionId), eq(appearance.gone, false)));
  return phrasesOf(
    rows.flatMap((r) => r.words ?? []),
    style,
  );
}
