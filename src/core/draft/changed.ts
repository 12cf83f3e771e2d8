const segmenter = new Intl.Segmenter('und', { granularity: 'grapheme' });
const MOST = 2_000;

const graphemes = (text: string): string[] => [...segmenter.segment(text.slice(0, MOST))].map((s) => s.segment);

/**
 * How much of a draft an editor changed: the edit distance (Levenshtein 1966) in graphemes, as a share of the longer text;
 * 0 for the same, 1 for another text altogether. Of texts over 2,000 UTF-16 code units only the start is compared.
 */
export function changedShare(before: string, after: string): number {
  const one = graphemes(before);
  const other = graphemes(after);
  const longer = Math.max(one.length, other.length);
  if (longer === 0) return 0;
  let row = other.map((_, i) => i + 1);
  row.unshift(0);
  for (const [i, letter] of one.entries()) {
    const next = [i + 1];
    for (const [j, against] of other.entries())
      next.push(Math.min(row[j + 1]! + 1, next[j]! + 1, row[j]! + (letter === against ? 0 : 1)));
    row = next;
  }
  return row.at(-1)! / longer;
}
