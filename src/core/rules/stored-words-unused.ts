import { z } from 'zod';
import { normalise, wordsOf } from '../words/graphemes';
import { hasExtension, isDeviceName } from './support/file-names';
import { defineRule, type Spot } from './support/rule';
import { IPTC } from './support/sources';
import { bare, heardWords, languageWords, quoted } from './support/words';

/** Share of the file's words that are said, from which the page uses them. */
const USED = 0.3;
const FIELDS: Record<string, string> = {
  alt: 'Alt Text (Accessibility)',
  description: 'description',
  title: 'title',
};

/** Whether a text says anything that somebody meant. */
function saysSomething(spot: Spot, words: string | null): words is string {
  if (words === null) return false;
  const text = bare(words);
  return !languageWords(spot).some((l) => l.placeholders.has(text)) && !hasExtension(words) && !isDeviceName(words);
}

export default defineRule({
  id: 'unshown-words',
  title: 'Words in the file that the page does not use',
  group: 'files',
  about:
    'Somebody wrote words for this picture into its file, and the page says nothing, or something else. Words that are stored somewhere are not words on the page: a template may have forgotten them. A description or a title in the file counts only where the page says nothing of its own.',
  scope: 'appearance',
  sees: true,
  gives: ['cantTell'],
  sources: [IPTC],
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<img src="a.jpg">' },
      {
        html: '<img src="a.jpg" alt="Two puffins on a cliff">',
        pictures: { 'a.jpg': { seen: { words: 'Two puffins on a grassy cliff', wordsFrom: 'alt' } } },
      },
      {
        html: '<img src="a.jpg" alt="The view from cottage 3">',
        pictures: { 'a.jpg': { seen: { words: 'Lighthouse, striped, 1862', wordsFrom: 'description' } } },
      },
      {
        html: '<img src="a.jpg" alt="">',
        pictures: { 'a.jpg': { seen: { words: 'Waves', wordsFrom: 'title' } } },
      },
    ],
    fails: [
      {
        html: '<img src="a.jpg">',
        pictures: { 'a.jpg': { seen: { words: 'Two puffins on a grassy cliff', wordsFrom: 'description' } } },
        message: 'Nothing is said here, and the description in its file is “Two puffins on a grassy cliff”.',
      },
      {
        html: '<img src="a.jpg" alt="Wildlife">',
        pictures: { 'a.jpg': { seen: { words: 'Two puffins on a grassy cliff', wordsFrom: 'alt' } } },
        message:
          'The Alt Text (Accessibility) in its file is “Two puffins on a grassy cliff”, and the page says something else.',
      },
    ],
  },
  check(spot) {
    const { appearance: a, picture } = spot;
    const { words, wordsFrom } = picture?.seen ?? { words: null, wordsFrom: null };
    const takes = a.element === 'img' || a.element === 'svg' || a.element === 'role-img';
    if (!words || !wordsFrom || !takes || a.hidden || spot.purpose === 'decorative' || a.control?.text === '')
      return null;
    const said = heardWords(a);
    const field = FIELDS[wordsFrom]!;
    const text = normalise(words);
    const mends = [{ kind: 'use words' as const, text }];
    if (!saysSomething(spot, said)) {
      if (a.state === 'silent') return null;
      const here = said === null ? 'Nothing is said here' : `Only ${quoted(normalise(said), 30)} is said here`;
      return { outcome: 'cantTell', message: `${here}, and the ${field} in its file is ${quoted(text)}.`, mends };
    }
    if (wordsFrom !== 'alt') return null;
    const own = new Set(wordsOf(said.toLowerCase()));
    const theirs = wordsOf(text.toLowerCase()).filter((w) => w.length > 2);
    if (theirs.length === 0 || theirs.filter((w) => own.has(w)).length >= theirs.length * USED) return null;
    return {
      outcome: 'cantTell',
      message: `The ${field} in its file is ${quoted(text)}, and the page says something else.`,
      mends,
    };
  },
});
