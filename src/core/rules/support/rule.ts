import type { Outcome, RuleFinding } from '../../model/finding';
import type { z } from 'zod';
import type { FormatId } from '../../model/document';
import type { PlacedObject } from '../../formats/page-builder';
import type { Purpose } from '../../model/appearance';
import type { Picture } from '../../model/picture';
import type { PictureAnalysis } from '../../model/picture-analysis';
import type { ContextPage, RuleContext } from '../../model/rule-context';
import type { Phrase } from '../../words/phrases';
import type { LanguageGuess } from '../../words/recognise';
import type { Speller } from '../../words/spelling';

/** Formulas in words and as MathML; made by libraries that are too heavy for a browser. */
export interface FormulaSpeech {
  /** A formula in TeX as it is said; null where it cannot be read, or where nothing speaks formulas in that language. */
  speech(tex: string, language: string): string | null;
  /** The same as a `math` element (MathML Core); null where it cannot be read. */
  mathml(tex: string): string | null;
}

/** What rules have to know beside a spot and its parameters; a rule that is not given it finds nothing. */
export interface Knowledge {
  speller(language: string): Speller | null;
  recognise(text: string): LanguageGuess | null;
  /** What opens or closes too many of the collection's texts. */
  phrases: readonly Phrase[];
  /** Words in lower case that the collection's own text is full of. */
  vocabulary: ReadonlySet<string>;
  /** Null where nothing offers formulas in words. */
  formulas: FormulaSpeech | null;
}

export const NO_KNOWLEDGE: Knowledge = {
  speller: () => null,
  recognise: () => null,
  phrases: [],
  vocabulary: new Set(),
  formulas: null,
};

export const RULE_GROUPS = ['presence', 'purpose', 'words', 'sets', 'files'] as const;
export type RuleGroup = (typeof RULE_GROUPS)[number];

export interface Source {
  name: string;
  url: string;
}

export interface Example {
  /** Body of one page, or of several; in words where objects are given. */
  html: string | string[];
  /** Objects of one document that is no web page, and its format (DOCX where it is not given). */
  objects?: readonly Partial<PlacedObject>[];
  format?: FormatId;
  /** Facts of the pictures by `src`, where a rule needs them. */
  pictures?: Record<string, Partial<Omit<Picture, 'analysis'>> & { analysis?: Partial<PictureAnalysis> }>;
  /** Language of the pages; English when not given. */
  lang?: string;
  /** It does not stand in the source: a script puts it there. */
  byScript?: boolean;
  /** What the pages are called and what they say of themselves, where a rule needs it. */
  page?: Partial<ContextPage>;
  targetTitle?: string;
  isThumbnail?: boolean;
  /** The settled purpose of all. */
  purpose?: Purpose;
  parameters?: Record<string, unknown>;
  phrases?: readonly Phrase[];
}

interface RuleMeta<P> {
  id: string;
  title: string;
  /** The part of the catalogue that it stands in. */
  group: RuleGroup;
  /** What it looks for and why it matters, for people. */
  about: string;
  /** It looks at what is in the picture, too. */
  sees?: true;
  gives: readonly Outcome[];
  /** The formats it speaks of: what has no equivalent in a format is not asked there. */
  formats: readonly FormatId[];
  /** Why it holds in documents, where its other sources speak of web pages only. */
  documentSources?: readonly Source[];
  /**
   * Ids of rules that find the same cause: what they found at the same appearance becomes evidence of this rule's finding,
   * and is not counted beside it (RULES.md, Precedence).
   */
  subsumes?: readonly string[];
  /** It is for words, and says nothing of the text of a formula: that is for `formula-source` to judge. */
  notForFormulas?: true;
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
  check(context: RuleContext, parameters: P, know: Knowledge): RuleFinding | null;
}

/** Looks at all appearances of one picture, of one page, or of one text that several pictures have; at least one is given. */
export interface SetRule<P> extends RuleMeta<P> {
  scope: 'picture' | 'page' | 'words';
  check(contexts: readonly RuleContext[], parameters: P): { context: RuleContext; finding: RuleFinding }[];
}

export type Rule<P = unknown> = AppearanceRule<P> | SetRule<P>;

/** Gives a rule its types; the object is the rule, its documentation and its tests at once. */
export function defineRule<P>(rule: AppearanceRule<P> | SetRule<P>): Rule {
  return rule as Rule;
}
