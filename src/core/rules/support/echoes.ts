import type { Appearance } from '../../model/appearance';
import { lengthOf, wordsKey } from '../../words/graphemes';

/** Shorter texts ("A", "1 £") stand beside themselves by chance. */
const SHORTEST = 4;

/** What beside an appearance says the same as its words, as a phrase; null where nothing does. */
export function echoOf(a: Appearance, words: string): string | null {
  if (lengthOf(words) < SHORTEST) return null;
  const key = wordsKey(words);
  const same = (text: string | null) => text !== null && wordsKey(text) === key;
  if (same(a.context.caption)) return 'the caption';
  if (a.context.control && same(a.context.control.text)) return `the text of the same ${a.context.control.kind}`;
  if (a.accessible.nameSource !== 'title' && same(a.markup.title)) return 'the title';
  if (same(a.context.nextHeading)) return 'the heading below';
  if (same(a.context.headings.at(-1) ?? null)) return 'the heading above';
  // A key is shorter than its text at most by what composes, some code units to one.
  const near = 4 * key.length + 16;
  const before = wordsKey(a.context.before.slice(-near));
  const after = wordsKey(a.context.after.slice(0, near));
  const edge = (text: string, at: number) => !/[\p{L}\p{N}]/u.test(text[at] ?? '');
  if (before.endsWith(key) && edge(before, before.length - key.length - 1)) return 'the text just before';
  if (after.startsWith(key) && edge(after, key.length)) return 'the text just after';
  return null;
}
