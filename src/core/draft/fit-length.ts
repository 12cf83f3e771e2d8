import { lengthOf, normalise } from '../words/graphemes';
import { languagesFor } from '../words/language/words';

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
  const isJoin = (word: string) => joins.some((j) => j.has(word.toLowerCase().replace(/[^\p{L}]/gu, '')));
  // What follows the last word that joins may go on behind the cut, and mean something else then.
  const join = words.findLastIndex(isJoin);
  const kept = join > 0 && lengthOf(words.slice(0, join).join(' ')) >= limit * ENOUGH ? words.slice(0, join) : words;
  while (kept.length > 1 && isJoin(kept.at(-1)!)) kept.pop();
  return kept.join(' ').replace(/[,;:–—-]+$/u, '');
}
