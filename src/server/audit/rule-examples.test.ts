import { RULES } from '@/core/rules';
import { strings } from '@/ui/strings';
import { failuresOf } from './rule-examples';

test.each(RULES.map((r) => [r.id, r] as const))('%s finds in its own examples what they say', (_, rule) =>
  expect(failuresOf(rule).map((m) => m && strings.message(m))).toEqual(rule.examples.fails.map((e) => e.message)),
);
