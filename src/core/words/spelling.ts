import { decodeTrie, editDistance } from 'cspell-trie-lib';

/** The dictionary of a language, or of its varieties together. */
export interface Speller {
  knows(word: string): boolean;
  /** Words that are meant, the most likely first; at most `most`. */
  suggest(word: string, most?: number): string[];
}

/** Which dictionaries belong to a language tag; where it names no variety, all of them are right. */
export const DICTIONARIES: Readonly<Record<string, readonly string[]>> = {
  en: ['en-gb', 'en-us'],
  de: ['de'],
  fr: ['fr'],
  es: ['es'],
  it: ['it'],
  nl: ['nl'],
  pt: ['pt-pt', 'pt-br'],
};

/** Words whose suggestions are remembered: the same mistake is made in many places. */
const MOST_SUGGESTED = 2000;
/** Milliseconds after which suggestions are good enough. */
const PATIENCE = 60;

/**
 * One dictionary out of the files of a language and its varieties.
 *
 * @param files word tries in a form of cspell-trie-lib, uncompressed; its binary one opens at once
 * @throws Error when they are none
 */
export function spellerOf(...files: readonly Uint8Array<ArrayBuffer>[]): Speller {
  const tries = files.map((bytes) => decodeTrie(bytes));
  const suggested = new Map<string, string[]>();
  return {
    // Some dictionaries write the apostrophe in one way, some in the other.
    knows: (word) =>
      tries.some((t) => t.hasWord(word, true)) ||
      (/['’]/.test(word) && ["'", '’'].some((sign) => tries.some((t) => t.hasWord(word.replace(/['’]/g, sign), true)))),
    suggest(word, most = 3) {
      const before = suggested.get(word);
      if (before) return before.slice(0, most);
      const options = {
        numSuggestions: 5 * most,
        ignoreCase: false,
        changeLimit: 2,
        timeout: PATIENCE,
        includeTies: true,
      };
      const all = tries.flatMap((t) => [...t.suggest(word, options)]);
      const words = [...new Set(all)].filter((w) => !/\s/.test(w));
      // The nearest first (an edit costs 100); people leave letters out, then double them, more often than they write others.
      const slipped = (w: string) => (isWithin(word, w) ? 0 : isWithin(w, word) ? 1 : 2);
      const rank = new Map(words.map((w) => [w, editDistance(word, w) + slipped(w)]));
      words.sort((a, b) => rank.get(a)! - rank.get(b)!);
      if (suggested.size >= MOST_SUGGESTED) suggested.clear();
      suggested.set(word, words);
      return words.slice(0, most);
    },
  };
}

/** A speller that never keeps anybody waiting. */
export interface PromptSpeller extends Speller {
  /** Looks for what was asked and not known yet; tells whether there was anything. */
  catchUp(): boolean;
}

/** Suggests what is known already, and leaves the search, which takes many milliseconds, for later. */
export function promptly(speller: Speller): PromptSpeller {
  const known = new Map<string, string[]>();
  const asked = new Map<string, number | undefined>();
  return {
    knows: (word) => speller.knows(word),
    suggest(word, most) {
      const suggestions = known.get(word);
      if (!suggestions) asked.set(word, most);
      return suggestions ?? [];
    },
    catchUp() {
      const any = asked.size > 0;
      for (const [word, most] of asked) known.set(word, speller.suggest(word, most));
      asked.clear();
      return any;
    },
  };
}

/** Whether all letters of one word stand in another, in order. */
function isWithin(word: string, other: string): boolean {
  let at = 0;
  for (const letter of other) if (letter === word[at]) at++;
  return at === word.length;
}
