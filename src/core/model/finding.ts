import type { Message } from './message';

/** What rules find, as data. */
export const OUTCOMES = ['failed', 'cantTell', 'advice'] as const;
/** EARL 1.0 outcomes, and `advice` for what is no accessibility failure. `passed` is counted, not reported. */
export type Outcome = (typeof OUTCOMES)[number];

/** Offsets into the words, UTF-16 code units, half open. */
export interface Span {
  start: number;
  end: number;
}

/** A change that can be applied at once: to the words, or to the house style's list of known words. */
export type Fix =
  /** `part` names the part of the text that is new, where the rest stays. */
  | { kind: 'use words'; text: string; part?: string }
  | { kind: 'mark decorative' }
  | { kind: 'accept word'; word: string }
  /** Something for those who can change the page itself. */
  | { kind: 'copy'; what: 'MathML'; text: string };

/** A fix that Detto applies itself. */
export type AppliedFix = Exclude<Fix, { kind: 'copy' }>;

export interface RuleFinding {
  outcome: Outcome;
  /** One sentence with the measured figures in it. */
  message: Message;
  span?: Span;
  fixes?: Fix[];
}

/** What another rule found of the same cause. */
export interface SubsumedFinding {
  rule: string;
  message: Message;
}

export interface Finding extends RuleFinding {
  rule: string;
  /** `Spot.id`: where it is shown. */
  context: string;
  /** What other rules found of the same cause; not counted beside it. */
  also?: SubsumedFinding[];
}
