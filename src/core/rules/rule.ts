import type { z } from 'zod';
import type { Appearance, Picture, Purpose } from '../appearance';

export const OUTCOMES = ['failed', 'cantTell', 'advice'] as const;
/** EARL 1.0 outcomes, and `advice` for what is no accessibility failure. `passed` is counted, not reported. */
export type Outcome = (typeof OUTCOMES)[number];

/** Offsets into the words, UTF-16 code units, half open. */
export interface Span {
  start: number;
  end: number;
}

/** A change that can be applied at once. */
export type Mend = { kind: 'use words'; text: string } | { kind: 'make silent' };

/** One appearance as the rules see it: what stands there, on which page, of which picture. */
export interface Spot {
  id: string;
  page: { path: string; lang: string | null };
  picture: Picture | null;
  appearance: Appearance;
  /** The settled purpose, else the proposed one. */
  purpose: Purpose;
  purposeSettled: boolean;
}

export interface Source {
  name: string;
  url: string;
}

export interface RuleFinding {
  outcome: Outcome;
  /** One sentence with the measured figures in it. */
  message: string;
  span?: Span;
  mends?: Mend[];
}

export interface Finding extends RuleFinding {
  rule: string;
  /** `Spot.id`: where it is shown. */
  spot: string;
}

export interface Example {
  /** Body of one page, or of several. */
  html: string | string[];
  /** Facts of the pictures by `src`, where a rule needs them. */
  pictures?: Record<string, Partial<Picture>>;
  /** Language of the pages; English when not given. */
  lang?: string;
}

interface RuleMeta<P> {
  id: string;
  title: string;
  /** What it looks for and why it matters, for people. */
  about: string;
  gives: readonly Outcome[];
  sources: readonly Source[];
  parameters: z.ZodType<P>;
  examples: {
    passes: readonly Example[];
    fails: readonly (Example & { message: string })[];
  };
}

/** Looks at one appearance on its own; runs as the editor types. */
export interface AppearanceRule<P> extends RuleMeta<P> {
  scope: 'appearance';
  check(spot: Spot, parameters: P): RuleFinding | null;
}

/** Looks at all appearances of one picture, or of one text; at least one is given. */
export interface SetRule<P> extends RuleMeta<P> {
  scope: 'picture' | 'words';
  check(spots: readonly Spot[], parameters: P): { spot: Spot; finding: RuleFinding }[];
}

export type Rule<P = unknown> = AppearanceRule<P> | SetRule<P>;

/** Gives a rule its types; the object is the rule, its documentation and its tests at once. */
export function defineRule<P>(rule: AppearanceRule<P> | SetRule<P>): Rule {
  return rule as Rule;
}
