import { activeRules, auditGroup, auditSpot, type RuleStyle } from '@/core/audit';
import { RULES } from '@/core/rules';
import type { Finding, SetRule, Spot } from '@/core/rules/rule';
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
  spots: readonly Spot[];
  /** Looked at together. */
  groups: readonly { scope: SetRule<unknown>['scope']; spots: readonly Spot[] }[];
}

export type AuditAnswer = { findings: Finding[] } | { error: string };

const withLikelyLanguage = languageTeller(knowledge());

/** What the rules find; dictionaries are opened as they are needed. */
export function performAudit({ style, phrases, only, spots, groups }: AuditTask): Finding[] {
  const rules = only ? RULES.filter((r) => only.includes(r.id)) : RULES;
  const know = knowledge(phrases);
  const active = activeRules(style, know, rules);
  return [
    ...withLikelyLanguage(spots).flatMap((spot) => auditSpot(spot, active)),
    ...groups.flatMap((g) => auditGroup(g.scope, withLikelyLanguage(g.spots), active)),
  ];
}
