export interface Replacement {
  find: string;
  put: string;
  matchCase: boolean;
  /** Only where no letter, mark or digit touches what is found (Unicode classes L, M, N). */
  wholeWords: boolean;
}

/** Replaces every occurrence in a text; the text itself where there is none. */
export function replaceIn(text: string, { find, put, matchCase, wholeWords }: Replacement): string {
  if (find === '') return text;
  const literal = find.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
  const pattern = wholeWords ? `(?<![\\p{L}\\p{M}\\p{N}])${literal}(?![\\p{L}\\p{M}\\p{N}])` : literal;
  return text.replace(new RegExp(pattern, matchCase ? 'gu' : 'giu'), () => put);
}
