import { z } from 'zod';
import type { Message } from '@/core/model/message';
import type { Field } from '@/core/house-style/fields';
import { type RuleGroup } from '@/core/rules/support/rule';
import { OUTCOMES, type Outcome } from '@/core/model/finding';

/** What a change of the house style does to the collection's own texts and pictures, by rule. */
export interface StyleEffect {
  rule: string;
  /** Whether texts are counted, or pictures. */
  counts: 'texts' | 'pictures';
  before: number;
  after: number;
  /** Found only after the change, the first few. */
  examples: { text: string; lang: string | null; message: Message }[];
}

export interface StyleEffects {
  effects: StyleEffect[];
  /** Appearances that were looked at, of how many; of very many, the furthest-reaching. */
  counted: number;
  of: number;
}

/** A rule as the House style page shows it. */
export interface RuleSetting {
  id: string;
  title: string;
  group: RuleGroup;
  gives: readonly Outcome[];
  defaults: Record<string, unknown>;
  /** Its parameters that can be set. */
  fields: readonly Field[];
}

/** A style as a browser sends it; its parameters are checked by the rules they belong to. */
export const SentStyle = z.record(
  z.string().max(40),
  z.strictObject({
    off: z.boolean().optional(),
    outcome: z.enum(OUTCOMES).optional(),
    parameters: z.record(z.string().max(40), z.unknown()).optional(),
  }),
);
