import type { Knowledge, Spot } from '../rules/rule';

/** Letters from which the language of a page can be told. */
const ENOUGH = 80;
/** How well a text has to fit the language. */
const SURE = 0.5;

const letters = (text: string) => text.match(/\p{L}/gu)?.length ?? 0;

/**
 * The spots with what their pages are most likely written in, where these do not say it: by title, headings and
 * description, and where these are short, by the passage around the picture.
 */
export function withLikelyLanguage<S extends Spot>(
  spots: readonly S[],
  { recognise }: Pick<Knowledge, 'recognise'>,
): S[] {
  const known = new Map<string, string | null>();
  const recognised = (text: string): string | null => {
    if (letters(text) < ENOUGH) return null;
    const found = recognise(text);
    return found && found.score >= SURE ? found.language : null;
  };
  return spots.map((spot) => {
    const { page, appearance: a } = spot;
    if (page.lang !== null || a.lang !== null) return spot;
    const told = [page.title, ...page.headings, page.description].join(' ');
    if (!known.has(page.path)) known.set(page.path, recognised(told));
    const likelyLang = known.get(page.path) ?? recognised([told, a.before, a.after, a.caption].join(' '));
    return likelyLang === null ? spot : { ...spot, page: { ...page, likelyLang } };
  });
}
