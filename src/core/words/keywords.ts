import type { LanguageWords } from './language/words';
import type { ContextPage } from '../model/rule-context';
import { wordsOf } from './graphemes';

/** A word that a page is about, or that its editor wants it to be found by, and how a text uses it. */
export interface KeywordUse {
  word: string;
  from: 'page' | 'house';
  times: number;
}

const MOST = 6;
/** What a word counts in the title, in a heading, in the description. */
const WEIGHTS = { title: 3, heading: 2, description: 1 };
/** From here on a word is what the page is about: it stands in more than one of them. */
const ENOUGH = 4;

interface Options {
  /** Of the languages that the page may be in; their joining words are no keywords. */
  lists: readonly LanguageWords[];
  stem: (word: string) => string;
}

/** English verbs and pronouns in short: “don’t”, “you’re”. */
const SHORTENED = /['’](?:t|re|ll|ve|d|m)$/u;

const isJoining = (word: string, lists: readonly LanguageWords[]): boolean =>
  SHORTENED.test(word) || lists.some((l) => l.functionWords.has(word));

/** The words that a page is about by its title, headings and description, the weightiest first, as they are written. */
export function pageKeywords(page: ContextPage, { lists, stem }: Options): string[] {
  const weights = new Map<string, { word: string; weight: number }>();
  const add = (text: string | null, weight: number) => {
    const once = new Map(wordsOf(text ?? '').map((w) => [stem(w), w]));
    for (const [key, word] of once) {
      if (word.length < 3 || /^\p{N}+$/u.test(word) || isJoining(word, lists)) continue;
      const known = weights.get(key);
      weights.set(key, { word: known?.word ?? word, weight: (known?.weight ?? 0) + weight });
    }
  };
  add(page.title, WEIGHTS.title);
  for (const heading of page.headings) add(heading, WEIGHTS.heading);
  add(page.description, WEIGHTS.description);
  return [...weights.values()]
    .filter((w) => w.weight >= ENOUGH)
    .sort((a, b) => b.weight - a.weight)
    .slice(0, MOST)
    .map((w) => w.word);
}

/** How often a text uses the words that its page, or the house, wants to be found by. */
export function keywordUses(text: string, page: ContextPage, house: readonly string[], options: Options): KeywordUse[] {
  const said = wordsOf(text).map(options.stem);
  const times = (phrase: string) => {
    const parts = wordsOf(phrase).map(options.stem);
    return said.filter((_, i) => parts.every((p, j) => said[i + j] === p)).length;
  };
  const own = new Set(house.flatMap(wordsOf).map(options.stem));
  return [
    ...house.map((word) => ({ word, from: 'house' as const, times: times(word) })),
    ...pageKeywords(page, options)
      .filter((w) => !own.has(options.stem(w)))
      .map((word) => ({ word, from: 'page' as const, times: times(word) })),
  ];
}
