import { activeRules, auditCollection } from '@/core/rules/audit';
import type { Message } from '@/core/model/message';
import { exampleContexts } from '@/core/rules/support/examples';
import type { Rule } from '@/core/rules/support/rule';
import { knowledge } from '../language/dictionaries';

/** What a rule finds in each of its examples that fail, in their order; null where a dictionary that it needs is missing. */
export function failuresOf(rule: Rule): (Message | null)[] {
  return rule.examples.fails.map((example) => {
    const style = { [rule.id]: { parameters: example.parameters ?? {} } };
    const active = activeRules(style, knowledge({ phrases: example.phrases ?? [] }), [rule]);
    return auditCollection(exampleContexts(example), active)[0]?.message ?? null;
  });
}
