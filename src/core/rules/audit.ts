import type { z } from 'zod';
import { groupBy } from '../group-by';
import { RULES } from '.';
import boilerplate from './boilerplate';
import { NO_KNOWLEDGE, type AppearanceRule, type Knowledge, type Rule, type SetRule } from './support/rule';
import type { RuleContext } from '../model/rule-context';
import { OUTCOMES, type Finding, type Outcome, type RuleFinding } from '../model/finding';
import { readable } from './support/readable';
import { heardWords } from './support/words';
import { withWords } from '../model/wording';
import { wordsKey } from '../words/graphemes';
import { isFormula } from '../purpose/formula';
import { commonPhrases, type Phrase, type PhraseLimits } from '../words/phrases';

/** The part of a collection's house style that rules obey. */
export interface RuleStyle {
  [rule: string]: {
    off?: boolean;
    /** What its findings count as here, in place of what the rule gives. */
    outcome?: Outcome;
    parameters?: Record<string, unknown>;
  };
}

export interface ActiveRule {
  rule: Rule;
  parameters: unknown;
  outcome: Outcome | null;
}

/** The rules that are on, with what they know beside what they look at. */
export interface ActiveRules {
  rules: readonly ActiveRule[];
  know: Knowledge;
  /** Told of a rule that threw: that costs its own finding, and no other. */
  failed(rule: string, error: unknown): void;
}

/** The rules that are on, with their parameters; values that a rule does not take fall back to its defaults. */
export function activeRules(
  style: RuleStyle = {},
  know: Knowledge = NO_KNOWLEDGE,
  rules: readonly Rule[] = RULES,
  failed: ActiveRules['failed'] = () => undefined,
): ActiveRules {
  const active = rules
    .filter((rule) => !style[rule.id]?.off)
    .map((rule) => {
      const own = style[rule.id];
      const schema = rule.parameters as z.ZodType;
      const parameters = schema.safeParse(own?.parameters ?? {});
      return {
        rule,
        parameters: parameters.success ? parameters.data : schema.parse({}),
        outcome: own?.outcome ?? null,
      };
    });
  return { rules: active, know, failed };
}

/** What the rules that look at one appearance alone find; cheap enough for every keystroke. */
export function auditAppearance(whole: RuleContext, active: ActiveRules): Finding[] {
  const context = readable(whole);
  const out: Finding[] = [];
  const formula = isFormula(context.appearance);
  for (const { rule, parameters, outcome } of active.rules) {
    if (rule.scope !== 'appearance' || (formula && rule.notForFormulas) || !speaksOf(rule, context)) continue;
    const finding = attempt(active, rule, null, () =>
      (rule as AppearanceRule<unknown>).check(context, parameters, active.know),
    );
    if (finding) out.push({ ...finding, outcome: outcome ?? finding.outcome, rule: rule.id, context: context.id });
  }
  return oneForEachCause(out, active);
}

/** The findings at one appearance without those whose cause another one names; these become evidence of that one. */
function oneForEachCause(findings: Finding[], active: ActiveRules): Finding[] {
  if (findings.length < 2) return findings;
  const byRule = new Map(findings.map((f) => [f.rule, f]));
  for (const { rule } of active.rules) {
    const own = byRule.get(rule.id);
    for (const id of own ? (rule.subsumes ?? []) : []) {
      const other = byRule.get(id);
      if (!other) continue;
      byRule.delete(id);
      own!.also = [...(own!.also ?? []), ...(other.also ?? []), { rule: id, message: other.message }];
    }
  }
  return findings.filter((f) => byRule.has(f.rule));
}

/** What the rules of one scope find in one group: all appearances of a picture, of a page, or of a text. */
export function auditGroup(
  scope: SetRule<unknown>['scope'],
  whole: readonly RuleContext[],
  active: ActiveRules,
): Finding[] {
  // The same words are of interest where several pictures have them.
  if (whole.length === 0 || (scope === 'words' && whole.every((s) => s.picture?.id === whole[0]!.picture?.id)))
    return [];
  const all = whole.map(readable);
  const prose = all.filter((c) => !isFormula(c.appearance));
  const out: Finding[] = [];
  for (const { rule, parameters, outcome } of active.rules) {
    if (rule.scope !== scope) continue;
    const contexts = (rule.notForFormulas ? prose : all).filter((c) => speaksOf(rule, c));
    if (contexts.length === 0) continue;
    const stronger = active.rules.filter((r) => r.rule.scope === 'appearance' && r.rule.subsumes?.includes(rule.id));
    for (const { context, finding } of attempt(active, rule, [], () =>
      (rule as SetRule<unknown>).check(contexts, parameters),
    )) {
      // What one appearance says wrong by itself is found there.
      const isSubsumed = stronger.some((r) =>
        attempt(active, r.rule, null, () =>
          (r.rule as AppearanceRule<unknown>).check(context, r.parameters, active.know),
        ),
      );
      if (isSubsumed) continue;
      out.push({
        ...finding,
        ...passingFixes(finding, context, active),
        outcome: outcome ?? finding.outcome,
        rule: rule.id,
        context: context.id,
      });
    }
  }
  return out;
}

const speaksOf = (rule: Rule, { page }: RuleContext): boolean => rule.formats.includes(page.format ?? 'html');

function attempt<T>(active: ActiveRules, rule: Rule, nothing: T, check: () => T): T {
  try {
    return check();
  } catch (error) {
    active.failed(rule.id, error);
    return nothing;
  }
}

/** A set may propose what one of its members says; not where that would fail in itself. */
function passingFixes(finding: RuleFinding, context: RuleContext, active: ActiveRules): Pick<RuleFinding, 'fixes'> {
  if (!finding.fixes) return {};
  const fails = (text: string) =>
    auditAppearance({ ...context, appearance: withWords(context.appearance, text) }, active).some(
      (f) => f.outcome === 'failed',
    );
  return { fixes: finding.fixes.filter((fix) => fix.kind !== 'use words' || !fails(fix.text)) };
}

/** The key of the group of appearances that say the same; null for one that says nothing. */
export function wordsGroup(context: Pick<RuleContext, 'appearance'>): string | null {
  const words = heardWords(context.appearance);
  return words === null ? null : wordsKey(words);
}

/**
 * What opens or closes too many texts, as the rule `boilerplate` is set; nothing where it is off.
 *
 * @param texts words keys, in any number each
 */
export function phrasesOf(texts: Iterable<string>, style: RuleStyle): Phrase[] {
  const rule = activeRules(style).rules.find((r) => r.rule === boilerplate);
  return rule ? commonPhrases([...new Set(texts)], rule.parameters as PhraseLimits) : [];
}

/** Everything that all rules find in a collection, in the order of its appearances. */
export function auditCollection(contexts: readonly RuleContext[], active: ActiveRules): Finding[] {
  const out: Finding[] = contexts.flatMap((context) => auditAppearance(context, active));
  const add = (found: readonly Finding[]) => {
    for (const finding of found) out.push(finding);
  };
  for (const [picture, group] of groupBy(contexts, (s) => s.picture?.id))
    if (picture !== undefined) add(auditGroup('picture', group, active));
  for (const group of groupBy(contexts, (s) => s.page.path).values()) add(auditGroup('page', group, active));
  for (const [key, group] of groupBy(contexts, wordsGroup)) if (key) add(auditGroup('words', group, active));
  const order = new Map(contexts.map((s, i) => [s.id, i]));
  return out.sort((a, b) => order.get(a.context)! - order.get(b.context)! || severity(a.outcome) - severity(b.outcome));
}

/** 0 for what fails, rising. */
export function severity(outcome: Outcome): number {
  return OUTCOMES.indexOf(outcome);
}
