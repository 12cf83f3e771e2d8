import type { Appearance } from '../../model/appearance';
import type { Message } from '../../model/message';
import { wordsOf } from '../../words/graphemes';
import { languagesFor, wordsOfLanguage, type LanguageWords } from '../../words/language/words';
import type { RuleContext } from '../../model/rule-context';
import { isBlank } from '../../white-space';

/**
 * The words that are heard for an appearance, as they are written (so that offsets into them are offsets
 * into the attribute); null where nothing is said or screen readers skip it.
 */
export function heardWords(a: Appearance): string | null {
  if (a.accessible.hidden || a.accessible.ignored || a.state !== 'described') return null;
  const written =
    { alt: a.markup.alt, 'aria-label': a.markup.ariaLabel, title: a.markup.title }[a.accessible.nameSource as string] ??
    a.accessible.name;
  return isBlank(written) ? null : written;
}

/** Whole range of a text without the white space around it. */
export function trimmedSpan(text: string): { start: number; end: number } {
  const start = text.length - text.trimStart().length;
  return { start, end: Math.max(start, text.trimEnd().length) };
}

/** The language that the page states for a spot. */
export const statedLanguage = (context: RuleContext): string | null =>
  context.appearance.context.lang ?? context.page.lang;

/** The language of the words: as it is stated, else as it is most likely. */
export const languageOf = (context: RuleContext): string | null =>
  statedLanguage(context) ?? context.page.likelyLang ?? null;

export function languageWords(context: RuleContext): LanguageWords[] {
  return languagesFor(languageOf(context));
}

/**
 * The word lists of the language that a text is in, where that is the stated one or English, which tools and translators
 * leave behind everywhere; null where there are none.
 */
export function listsOfText(text: string, context: RuleContext): LanguageWords | null {
  const own = wordsOfLanguage(languageOf(context));
  const english = wordsOfLanguage('en')!;
  if (!own || own === english) return own;
  const words = wordsOf(text);
  const joining = (lists: LanguageWords) => words.filter((w) => lists.functionWords.has(w)).length;
  return joining(english) > joining(own) ? english : own;
}

/** A text as far as a message shows it. @param limit UTF-16 code units */
export const clipped = (text: string, limit = 60): string =>
  text.length > limit ? `${text.slice(0, limit - 1).trimEnd()}…` : text;

/** The same in quotation marks, as a part of a list. */
export const quoted = (text: string, limit = 60): Message => ({ id: 'quoted', values: { text: clipped(text, limit) } });
