const graphemeSegmenter = new Intl.Segmenter('und', { granularity: 'grapheme' });

const UNTIDY = /[^\S ]| {2}|^ | $/;
const PLAIN = /^[\x20-\x7e]*$/;
/** Latin, Greek, Cyrillic and their punctuation: what never joins with what stands beside it (UAX 29, Other and Control). */
const SINGLE = /^[\x20-\x7e\u00a0-\u02ff\u0370-\u0482\u048a-\u0587\u2010-\u2027\u2030-\u205e\u20a0-\u20bf]*$/;

/** White space as a screen reader treats it: runs become one space, none at the ends. */
export function normalise(text: string): string {
  if (!UNTIDY.test(text)) return text;
  return text.replace(/\s+/g, ' ').trim();
}

/** Length in grapheme clusters after white-space normalisation (Unicode UAX 29). */
export function lengthOf(text: string): number {
  const normal = normalise(text);
  if (SINGLE.test(normal)) return normal.length;
  let n = 0;
  for (const _ of graphemeSegmenter.segment(normal)) n++;
  return n;
}

/** NFKC (Unicode UAX 15), under which ASCII stays what it is. */
const compatible = (text: string) => (PLAIN.test(text) ? text : text.normalize('NFKC'));

/** The key under which two texts count as the same words: normalised, case and closing stop ignored. */
export function wordsKey(text: string): string {
  return compatible(normalise(text))
    .toLowerCase()
    .replace(/[.!…]+$/u, '');
}

/** Lower-case words (letters and digits) of a text, in order. */
export function wordsOf(text: string): string[] {
  return (
    compatible(text)
      .toLowerCase()
      .match(/[\p{L}\p{M}\p{N}]+(?:['’][\p{L}]+)*/gu) ?? []
  );
}
