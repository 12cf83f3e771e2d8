import { activeRules, auditGroup, auditAppearance, type RuleStyle } from '@/core/audit';
import { RULES } from '@/core/rules';
import type { SetRule } from '@/core/rules/support/rule';
import type { RuleContext } from '@/core/rules/support/rule-context';
import type { Finding } from '@/core/model/finding';
import { languageTeller } from '@/core/words/page-language';
import type { Phrase } from '@/core/words/phrases';
import { knowledge } from '../language/dictionaries';

/** One portion of an audit, as it goes to the thread that does it. */
export interface AuditTask {
  style: RuleStyle;
  phrases: readonly Phrase[];
  /** Ids of the rules that are asked; null for all that are on. */
  only: readonly string[] | null;
  /** Looked at one by one. */
  contexts: readonly RuleContext[];
  /** Looked at together. */
  groups: readonly { scope: SetRule<unknown>['scope']; contexts: readonly RuleContext[] }[];
}

/** Rules that threw, with what they threw; each costs its own finding. */
export type Failures = ReadonlyMap<string, string>;

export type AuditAnswer = { findings: Finding[]; failures: Failures } | { error: string };

const withLikelyLanguage = languageTeller(knowledge());

/** What the rules find; dictionaries are opened as they are needed. */
export function performAudit({ style, phrases, only, contexts, groups }: AuditTask): {
  findings: Finding[];
  failures: Failures;
} {
  const rules = only ? RULES.filter((r) => only.includes(r.id)) : RULES;
  const know = knowledge(phrases);
  const failures = new Map<string, string>();
  const active = activeRules(style, know, rules, (rule, error) =>
    failures.set(rule, error instanceof Error ? error.message : String(error)),
  );
  const findings = [
    ...withLikelyLanguage(contexts).flatMap((context) => auditAppearance(context, active)),
    ...groups.flatMap((g) => auditGroup(g.scope, withLikelyLanguage(g.contexts), active)),
  ];
  return { findings, failures };
}

/** Groups as an audit task takes them; what belongs to no group is left out. */
export const together = (scope: 'picture' | 'page' | 'words', groups: ReadonlyMap<unknown, readonly RuleContext[]>) =>
  [...groups].flatMap(([key, contexts]) => (key === null ? [] : [{ scope, contexts }]));
