import { lengthOf, normalise } from '../words/graphemes';
import { languagesFor } from '../rules/language/words';

/** Share of the limit that a clause has to fill to be worth keeping alone. */
const ENOUGH = 0.4;

/**
 * A text within a limit, by whole words: it ends where a clause ends if that leaves enough, else after the last word that
 * fits, without words that join and name nothing ("of", "with the").
 *
 * @param limit graphemes, at least 1
 */
export function fitLength(text: string, limit: number, language: string | null): string {
  const whole = normalise(text);
  if (lengthOf(whole) <= limit) return whole;
  const ends = [...whole.matchAll(/(?<=\p{L})[,;:](?=\s)|\s[–—-](?=\s)|\s(?=\()/gu)].map((m) => m.index).reverse();
  const clause = ends.map((end) => whole.slice(0, end)).find((t) => lengthOf(t) <= limit);
  if (clause && lengthOf(clause) >= limit * ENOUGH) return clause;
  const words: string[] = [];
  for (const word of whole.split(' ')) {
    if (lengthOf([...words, word].join(' ')) > limit) break;
    words.push(word);
  }
  const joins = languagesFor(language).map((l) => l.functionWords);
  while (
    words.length > 1 &&
    joins.some((j) =>
      j.has(
        words
          .at(-1)!
          .toLowerCase()
          .replace(/[^\p{L}]/gu, ''),
      ),
    )
  )
    words.pop();
  return words.join(' ').replace(/[,;:–—-]+$/u, '');
}
