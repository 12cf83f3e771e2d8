import type { Appearance } from '../../model/appearance';
import type { Message } from '../../model/message';
import { lengthOf, wordsKey } from '../../words/graphemes';

/** Shorter texts ("A", "1 £") stand beside themselves by chance. */
const SHORTEST = 4;

/** What beside an appearance says the same as its words; null where nothing does. */
export function echoOf(a: Appearance, words: string): Message | null {
  if (lengthOf(words) < SHORTEST) return null;
  const key = wordsKey(words);
  const same = (text: string | null) => text !== null && wordsKey(text) === key;
  if (same(a.context.caption)) return { id: 'neighbour.caption' };
  if (a.context.control && same(a.context.control.text))
    return { id: 'neighbour.control', values: { kind: a.context.control.kind } };
  if (a.accessible.nameSource !== 'title' && same(a.markup.title)) return { id: 'neighbour.title' };
  if (same(a.context.nextHeading)) return { id: 'neighbour.heading-below' };
  if (same(a.context.headings.at(-1) ?? null)) return { id: 'neighbour.heading-above' };
  // A key is shorter than its text at most by what composes, some code units to one.
  const near = 4 * key.length + 16;
  const before = wordsKey(a.context.before.slice(-near));
  const after = wordsKey(a.context.after.slice(0, near));
  const edge = (text: string, at: number) => !/[\p{L}\p{N}]/u.test(text[at] ?? '');
  if (before.endsWith(key) && edge(before, before.length - key.length - 1)) return { id: 'neighbour.text-before' };
  if (after.startsWith(key) && edge(after, key.length)) return { id: 'neighbour.text-after' };
  return null;
}
