import type { Appearance, Purpose } from './appearance';
import type { FormatId } from './document';
import type { Picture } from './picture';
import { withTexts, type AcceptedTexts } from './wording';

/** What an appearance's page says of itself. */
export interface ContextPage {
  path: string;
  /** HTML where it is not given. */
  format?: FormatId;
  lang: string | null;
  /** What it is most likely written in, where it does not say. */
  likelyLang?: string | null;
  title: string;
  description: string | null;
  headings: readonly string[];
  /** Of `meta robots` and `X-Robots-Tag`, in lower case. */
  directives: readonly string[];
}

/** One appearance as the rules see it: what stands there, on which page, of which picture. */
export interface RuleContext {
  id: string;
  page: ContextPage;
  picture: Picture | null;
  /** Those of its candidates (`srcset`, `source`) that are other files. */
  variants?: readonly Picture[];
  appearance: Appearance;
  /** The settled purpose, else the proposed one. */
  purpose: Purpose;
  purposeSettled: boolean;
  /** Title of the page that its link, or that of its card, leads to; null where there is none, or that page was not surveyed. */
  targetTitle: string | null;
  /** Whether the page that it leads to shows it larger (`core/purpose/thumbnail.ts`). */
  isThumbnail?: boolean;
  /** Where its texts were cut for the rules (`readable.ts`): how long the words were, in UTF-16 code units. */
  uncut?: number;
}

/** What a context is made from, wherever it is kept: in the database, or in memory for the command line. */
export interface ContextSource extends Pick<
  RuleContext,
  'id' | 'page' | 'picture' | 'appearance' | 'purpose' | 'purposeSettled'
> {
  /** What is accepted and not in the page yet. */
  texts: AcceptedTexts;
  /** Path of the page that its link leads to, as pages are stored; null for none. */
  target: string | null;
  isThumbnail: boolean;
  /** The picture at an address that is a candidate (`srcset`, `source`). */
  pictureAt(address: string): Picture | undefined;
  /** Title of the page at a path. */
  titleAt(path: string): string | undefined;
}

/** An appearance as the rules see it, with the accepted words in place. */
export function ruleContextOf(from: ContextSource): RuleContext {
  const { id, page, picture, appearance, texts, target, purpose, purposeSettled, isThumbnail } = from;
  const { path, format, lang, title, description, headings, directives } = page;
  return {
    id,
    page: { path, format: format ?? 'html', lang, title, description, headings, directives },
    picture,
    variants: appearance.markup.candidates
      .flatMap((c) => (c.address ? (from.pictureAt(c.address) ?? []) : []))
      .filter((v) => v.id !== picture?.id),
    appearance: withTexts(appearance, texts),
    purpose,
    purposeSettled,
    targetTitle: (target === null ? undefined : from.titleAt(target)) ?? null,
    isThumbnail,
  };
}
