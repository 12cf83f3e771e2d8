import type { z } from 'zod';
import { groupBy } from './group-by';
import { RULES } from './rules';
import {
  OUTCOMES,
  type AppearanceRule,
  type Finding,
  type Outcome,
  type Rule,
  type RuleFinding,
  type SetRule,
  type Spot,
} from './rules/rule';
import { heardWords } from './rules/words';
import { withWords } from './wording';
import { wordsKey } from './words/graphemes';

/** The part of a collection's house style that rules obey. */
export interface RuleStyle {
  [rule: string]: { off?: boolean; parameters?: Record<string, unknown> };
}

interface ActiveRule {
  rule: Rule;
  parameters: unknown;
}

/** The rules that are on, with their parameters; values that a rule does not take fall back to its defaults. */
export function activeRules(style: RuleStyle = {}, rules: readonly Rule[] = RULES): ActiveRule[] {
  return rules
    .filter((rule) => !style[rule.id]?.off)
    .map((rule) => {
      const schema = rule.parameters as z.ZodType;
      const own = schema.safeParse(style[rule.id]?.parameters ?? {});
      return { rule, parameters: own.success ? own.data : schema.parse({}) };
    });
}

/** What the rules that look at one appearance alone find; cheap enough for every keystroke. */
export function auditSpot(spot: Spot, active: readonly ActiveRule[]): Finding[] {
  const out: Finding[] = [];
  for (const { rule, parameters } of active) {
    if (rule.scope !== 'appearance') continue;
    const finding = (rule as AppearanceRule<unknown>).check(spot, parameters);
    if (finding) out.push({ ...finding, rule: rule.id, spot: spot.id });
  }
  return out;
}

/** What the rules of one scope find in one group: all appearances of a picture, or of a text. */
export function auditGroup(
  scope: SetRule<unknown>['scope'],
  spots: readonly Spot[],
  active: readonly ActiveRule[],
): Finding[] {
  if (spots.length === 0) return [];
  const out: Finding[] = [];
  for (const { rule, parameters } of active) {
    if (rule.scope !== scope) continue;
    for (const { spot, finding } of (rule as SetRule<unknown>).check(spots, parameters))
      out.push({ ...finding, ...soundMends(finding, spot, active), rule: rule.id, spot: spot.id });
  }
  return out;
}

/** A set may propose what one of its members says; not where that would fail in itself. */
function soundMends(finding: RuleFinding, spot: Spot, active: readonly ActiveRule[]): Pick<RuleFinding, 'mends'> {
  if (!finding.mends) return {};
  const fails = (text: string) =>
    auditSpot({ ...spot, appearance: withWords(spot.appearance, text) }, active).some((f) => f.outcome === 'failed');
  return { mends: finding.mends.filter((mend) => mend.kind !== 'use words' || !fails(mend.text)) };
}

/** The key of the group of appearances that say the same; null for one that says nothing. */
export function wordsGroup(spot: Pick<Spot, 'appearance'>): string | null {
  const words = heardWords(spot.appearance);
  return words === null ? null : wordsKey(words);
}

/** Everything that all rules find in a collection, in the order of its appearances. */
export function auditCollection(spots: readonly Spot[], active: readonly ActiveRule[]): Finding[] {
  const out: Finding[] = spots.flatMap((spot) => auditSpot(spot, active));
  for (const [picture, group] of groupBy(spots, (s) => s.picture?.id))
    if (picture !== undefined) out.push(...auditGroup('picture', group, active));
  for (const [key, group] of groupBy(spots, wordsGroup)) if (key) out.push(...auditGroup('words', group, active));
  const order = new Map(spots.map((s, i) => [s.id, i]));
  return out.sort((a, b) => order.get(a.spot)! - order.get(b.spot)! || severity(a.outcome) - severity(b.outcome));
}

/** 0 for what fails, rising. */
export function severity(outcome: Outcome): number {
  return OUTCOMES.indexOf(outcome);
}
