import { activeRules, auditGroup, auditAppearance, type RuleStyle } from '@/core/rules/audit';
import { RULES } from '@/core/rules';
import type { SetRule } from '@/core/rules/support/rule';
import type { RuleContext } from '@/core/model/rule-context';
import type { Finding } from '@/core/model/finding';
import { createLanguageDetector } from '@/core/words/page-language';
import type { Phrase } from '@/core/words/phrases';
import { isTex } from '@/core/words/tex';
import { languageOf } from '@/core/rules/support/words';
import { knowledge } from '../language/dictionaries';
import { formulaLanguage, openFormulaSpeech } from '../language/formula-speech';

/** One portion of an audit, as it goes to the thread that does it. */
export interface AuditTask {
  style: RuleStyle;
  phrases: readonly Phrase[];
  /** Words of the collection's own text, parted by spaces. */
  vocabulary: string;
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

const withLikelyLanguage = createLanguageDetector(knowledge());

/** What the rules find; dictionaries are opened as they are needed. */
export async function performAudit({ style, phrases, vocabulary, only, contexts, groups }: AuditTask): Promise<{
  findings: Finding[];
  failures: Failures;
}> {
  const rules = only ? RULES.filter((r) => only.includes(r.id)) : RULES;
  const spoken = formulaLanguages(contexts);
  const know = knowledge({
    phrases,
    vocabulary: wordsIn(vocabulary),
    formulas: spoken && (await openFormulaSpeech(spoken)),
  });
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

let lastVocabulary = { text: '', words: new Set<string>() };

/** The words of a vocabulary; portions of one audit have the same, which is parted once. */
function wordsIn(text: string): ReadonlySet<string> {
  if (lastVocabulary.text !== text) lastVocabulary = { text, words: new Set(text.split(' ')) };
  return lastVocabulary.words;
}

/** The languages in which formulas are to be said; null where there is no formula. */
function formulaLanguages(contexts: readonly RuleContext[]): Set<string> | null {
  const formulas = contexts.filter(({ appearance: a }) =>
    isTex(a.markup.alt ?? a.accessible.name, Boolean(a.context.formula)),
  );
  if (formulas.length === 0) return null;
  return new Set(formulas.flatMap((context) => formulaLanguage(languageOf(context) ?? '') ?? []));
}

/** Groups as an audit task takes them; what belongs to no group is left out. */
export const together = (scope: 'picture' | 'page' | 'words', groups: ReadonlyMap<unknown, readonly RuleContext[]>) =>
  [...groups].flatMap(([key, contexts]) => (key === null ? [] : [{ scope, contexts }]));
