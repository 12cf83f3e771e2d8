import type { RuleContext } from '../model/rule-context';
import type { LanguageGuess } from './recognise';

/** Letters from which the language of a page can be recognised. */
const ENOUGH = 80;
/** Characters of a passage that are looked at: several times what is enough. */
const PASSAGE = 300;
/** How well a text has to fit the language. */
const SURE = 0.5;
/** Texts whose language is remembered, because what belongs to one page comes again and again. */
const MOST_KNOWN = 4000;

/** UTF-16 code units of what a page says of itself that are looked at. */
const MAX_CHARS = 4000;

const letters = (text: string) => text.match(/\p{L}/gu)?.length ?? 0;

/**
 * Gives spots what their pages are most likely written in, where these do not say it: by title, headings and
 * description, and where these are short, by the passage around the picture.
 */
export function createLanguageDetector({
  recognise,
}: {
  recognise(text: string): LanguageGuess | null;
}): <S extends RuleContext>(contexts: readonly S[]) => S[] {
  const known = new Map<string, string | null>();
  const recognised = (text: string): string | null => {
    const before = known.get(text);
    if (before !== undefined) return before;
    const found = letters(text) < ENOUGH ? null : recognise(text);
    const language = found && found.score >= SURE ? found.language : null;
    if (known.size >= MOST_KNOWN) known.clear();
    known.set(text, language);
    return language;
  };
  return (contexts) =>
    contexts.map((context) => {
      const { page, appearance: a } = context;
      if (page.lang !== null || a.context.lang !== null) return context;
      const pageWords = [page.title, ...page.headings, page.description].join(' ').slice(0, MAX_CHARS);
      const likelyLang =
        recognised(pageWords) ??
        recognised(
          `${pageWords} ${[a.context.caption, a.context.before, a.context.after].join(' ').slice(0, PASSAGE)}`,
        );
      return likelyLang === null ? context : { ...context, page: { ...page, likelyLang } };
    });
}
