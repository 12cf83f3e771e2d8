import type { WordCounts } from '../model/page';

/** Shorter words are in every dictionary, or abbreviations. */
const SHORTEST = 4;
const WORDS = /[\p{L}\p{M}]+(?:[’'][\p{L}\p{M}]+)*/gu;
/** Different words of one page that are counted. */
const MOST = 3_000;
/** Times that a word stands in the running text of a collection from which it belongs to it. */
export const OWN_FROM = 4;

/** Counts the words of the texts of a page; of very many, the first ones. */
export function countWords(texts: Iterable<string>): WordCounts {
  const counts = new Map<string, number>();
  for (const text of texts)
    for (const found of text.match(WORDS) ?? []) {
      if (found.length < SHORTEST) continue;
      const word = found.toLowerCase();
      const n = counts.get(word);
      if (n !== undefined || counts.size < MOST) counts.set(word, (n ?? 0) + 1);
    }
  return Object.fromEntries(counts);
}

/** The words of a collection: those that stand in its running text over three times. */
export class Vocabulary {
  private readonly counts = new Map<string, number>();
  readonly words: Set<string>;

  /** @param known words that belong to it already */
  constructor(known: Iterable<string> = []) {
    this.words = new Set(known);
  }

  /** Adds the words of a page, and gives those that belong to the collection from now on. */
  add(page: WordCounts): string[] {
    const fresh: string[] = [];
    for (const [word, n] of Object.entries(page)) {
      if (this.words.has(word)) continue;
      const count = (this.counts.get(word) ?? 0) + n;
      if (count < OWN_FROM) this.counts.set(word, count);
      else {
        this.counts.delete(word);
        this.words.add(word);
        fresh.push(word);
      }
    }
    return fresh;
  }
}
