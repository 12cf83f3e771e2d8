import type { Appearance } from '../../model/appearance';
import type { Message } from '../../model/message';
import { lengthOf } from '../../words/graphemes';
import { saysAtEdge, saysSame } from '../../words/said';

/** Shorter texts ("A", "1 £") stand beside themselves by chance. */
const SHORTEST = 4;

/**
 * What beside an appearance says the same as its words; null where nothing does. The text of an `area` is heard in the
 * place of a link that also stands below the picture.
 */
export function echoOf(a: Appearance, words: string, language: string | null): Message | null {
  if (lengthOf(words) < SHORTEST || a.element === 'area') return null;
  const same = (text: string | null) => text !== null && text !== '' && saysSame(text, words, language);
  if (same(a.context.caption)) return { id: 'neighbour.caption' };
  if (a.context.control && same(a.context.control.text))
    return { id: 'neighbour.control', values: { kind: a.context.control.kind } };
  if (a.accessible.nameSource !== 'title' && same(a.markup.title)) return { id: 'neighbour.title' };
  // All that a link or a button says has to be said there.
  if (a.context.control?.text === '') return null;
  if (same(a.context.nextHeading)) return { id: 'neighbour.heading-below' };
  if (same(a.context.headings.at(-1) ?? null)) return { id: 'neighbour.heading-above' };
  // Brackets and the number of a figure are in the text beside, and not in the words.
  const near = 2 * words.length + 32;
  if (saysAtEdge(a.context.before.slice(-near), words, 'end', language)) return { id: 'neighbour.text-before' };
  if (saysAtEdge(a.context.after.slice(0, near), words, 'start', language)) return { id: 'neighbour.text-after' };
  return null;
}
