import { z } from 'zod';
import { RULES } from '../rules';
import { fieldsOf } from './fields';

/** Parameters say of themselves how people set them; a new one touches its rule's file alone. */
const fields = (shape: z.ZodRawShape) => fieldsOf({ id: 'rule', parameters: z.object(shape) as never });

test('each type has its field, in its own unit', () => {
  expect(
    fields({
      limit: z.int().min(20).max(1000).default(100).meta({ label: 'Limit', lead: 'Over', unit: 'characters.' }),
      share: z.number().min(0.05).max(1).default(0.3).meta({ label: 'Percent', unit: '%', scale: 0.01 }),
      times: z.number().min(1).max(20).default(2.5).meta({ label: 'Times' }),
      prefix: z.string().max(9).default('').meta({ label: 'Prefix' }),
      phrases: z.array(z.string()).default([]).meta({ label: 'Phrases', help: 'One a line.' }),
      pairs: z
        .array(z.object({ instead: z.string(), use: z.string() }))
        .default([])
        .meta({ label: 'Pairs' }),
      letter: z
        .enum(['any', 'upper'])
        .default('any')
        .meta({ label: 'Letter', choices: { any: 'any', upper: 'a capital' } }),
    }),
  ).toEqual([
    { name: 'limit', label: 'Limit', lead: 'Over', unit: 'characters.', kind: 'number', min: 20, max: 1000, step: 1 },
    { name: 'share', label: 'Percent', unit: '%', scale: 0.01, kind: 'number', min: 5, max: 100, step: 1 },
    { name: 'times', label: 'Times', kind: 'number', min: 1, max: 20, step: 0.05 },
    { name: 'prefix', label: 'Prefix', kind: 'text' },
    { name: 'phrases', label: 'Phrases', help: 'One a line.', kind: 'lines' },
    { name: 'pairs', label: 'Pairs', kind: 'pairs', keys: ['instead', 'use'] },
    { name: 'letter', label: 'Letter', choices: { any: 'any', upper: 'a capital' }, kind: 'choice' },
  ]);
});

test('a parameter that says nothing of itself, or has no field, is a mistake that names it', () => {
  expect(() => fields({ limit: z.int().default(1) })).toThrow('The parameter rule.limit has no label.');
  expect(() => fields({ on: z.boolean().default(true).meta({ label: 'On' }) })).toThrow(
    'The parameter rule.on is of a type',
  );
});

test.each(RULES.map((r) => [r.id, r] as const))('%s says of each of its parameters how it is set', (_, rule) => {
  const own = fieldsOf(rule);
  expect(own.map((f) => f.name)).toEqual(Object.keys(rule.parameters.parse({}) as object));
  for (const field of own) {
    const value = (rule.parameters.parse({}) as Record<string, unknown>)[field.name];
    if (field.kind === 'choice') expect(field.choices).toHaveProperty(String(value));
    if (field.kind !== 'number') continue;
    const shown = (value as number) / (field.scale ?? 1);
    expect(shown).toBeGreaterThanOrEqual(field.min);
    expect(shown).toBeLessThanOrEqual(field.max);
  }
});
