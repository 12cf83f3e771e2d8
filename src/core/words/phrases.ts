/** Words that open or close many texts of a collection. */
export interface Phrase {
  at: 'start' | 'end';
  /** In lower case, words joined by one space. */
  words: string;
  /** Texts that have it, of how many. */
  texts: number;
  of: number;
}

export interface PhraseLimits {
  /** From 0 to 1, of all texts. */
  share: number;
  atLeast: number;
}

/** One word opens many honest texts ("Two", "View"). */
const FEWEST = 2;
const MOST = 8;

/** The words of a text as phrases are made of them. */
export function phraseWords(text: string): string[] {
  return text.toLowerCase().match(/[\p{L}\p{M}\p{N}’'&@.-]+/gu) ?? [];
}

/**
 * The longest phrases that open or close more than a share of different texts. Counted word by word from the edge, so
 * that only what is common already is counted further.
 *
 * @param texts each once
 */
export function commonPhrases(texts: readonly string[], { share, atLeast }: PhraseLimits): Phrase[] {
  const enough = Math.max(atLeast, Math.ceil(share * texts.length));
  if (texts.length < enough) return [];
  const split = texts.map(phraseWords);
  const out: Phrase[] = [];
  for (const at of ['start', 'end'] as const) {
    const edges = at === 'start' ? split : split.map((w) => [...w].reverse());
    let common = new Map<string, string[][]>([['', edges]]);
    for (let length = 1; length <= MOST && common.size > 0; length++) {
      const longer = new Map<string, string[][]>();
      for (const [key, members] of common) {
        const parts = new Map<string, string[][]>();
        for (const words of members) {
          // Never the whole text: that is another rule's business.
          if (words.length <= length) continue;
          const part = parts.get(words[length - 1]!);
          if (part) part.push(words);
          else parts.set(words[length - 1]!, [words]);
        }
        let extended = false;
        for (const [word, part] of parts)
          if (part.length >= enough) {
            longer.set(key === '' ? word : `${key} ${word}`, part);
            extended = true;
          }
        if (!extended && length > FEWEST) out.push(phrase(at, key, members.length, texts.length));
      }
      common = longer;
    }
    for (const [key, members] of common) out.push(phrase(at, key, members.length, texts.length));
  }
  return out.sort((a, b) => b.texts - a.texts || (a.words < b.words ? -1 : 1));
}

function phrase(at: Phrase['at'], key: string, texts: number, of: number): Phrase {
  return { at, words: at === 'start' ? key : key.split(' ').reverse().join(' '), texts, of };
}
