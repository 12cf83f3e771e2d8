const graphemeSegmenter = new Intl.Segmenter('und', { granularity: 'grapheme' });

/** White space as a screen reader treats it: runs become one space, none at the ends. */
export function normalise(text: string): string {
  return text.replace(/\s+/g, ' ').trim();
}

/** Length in grapheme clusters after white-space normalisation (Unicode UAX 29). */
export function lengthOf(text: string): number {
  const normal = normalise(text);
  if (/^[\x20-\x7e]*$/.test(normal)) return normal.length;
  let n = 0;
  for (const _ of graphemeSegmenter.segment(normal)) n++;
  return n;
}

/** The key under which two texts count as the same words: normalised, case and closing stop ignored. */
export function wordsKey(text: string): string {
  return normalise(text)
    .normalize('NFKC')
    .toLocaleLowerCase('und')
    .replace(/[.!…]+$/u, '');
}

/** Lower-case words (letters and digits) of a text, in order. */
export function wordsOf(text: string): string[] {
  return (
    text
      .normalize('NFKC')
      .toLocaleLowerCase('und')
      .match(/[\p{L}\p{M}\p{N}]+(?:['’][\p{L}]+)*/gu) ?? []
  );
}
