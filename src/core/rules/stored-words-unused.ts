import { z } from 'zod';
import { normalise, wordsOf } from '../words/graphemes';
import { hasExtension, isDeviceName } from './support/file-names';
import { defineRule, type RuleContext } from './support/rule';
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
function saysSomething(context: RuleContext, words: string | null): words is string {
  if (words === null) return false;
  const text = bare(words);
  return !languageWords(context).some((l) => l.placeholders.has(text)) && !hasExtension(words) && !isDeviceName(words);
}

export default defineRule({
  id: 'stored-words-unused',
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
        pictures: { 'a.jpg': { analysis: { words: 'Two puffins on a grassy cliff', wordsFrom: 'alt' } } },
      },
      {
        html: '<img src="a.jpg" alt="The view from cottage 3">',
        pictures: { 'a.jpg': { analysis: { words: 'Lighthouse, striped, 1862', wordsFrom: 'description' } } },
      },
      {
        html: '<img src="a.jpg" alt="">',
        pictures: { 'a.jpg': { analysis: { words: 'Waves', wordsFrom: 'title' } } },
      },
    ],
    fails: [
      {
        html: '<img src="a.jpg">',
        pictures: { 'a.jpg': { analysis: { words: 'Two puffins on a grassy cliff', wordsFrom: 'description' } } },
        message: 'There is no alt text, and the description in its file is “Two puffins on a grassy cliff”.',
      },
      {
        html: '<img src="a.jpg" alt="Wildlife">',
        pictures: { 'a.jpg': { analysis: { words: 'Two puffins on a grassy cliff', wordsFrom: 'alt' } } },
        message:
          'The Alt Text (Accessibility) in its file is “Two puffins on a grassy cliff”, and the page says something else.',
      },
    ],
  },
  check(context) {
    const { appearance: a, picture } = context;
    const { words, wordsFrom } = picture?.analysis ?? { words: null, wordsFrom: null };
    const takes = a.element === 'img' || a.element === 'svg' || a.element === 'role-img';
    if (
      !words ||
      !wordsFrom ||
      !takes ||
      a.accessible.hidden ||
      context.purpose === 'decorative' ||
      a.context.control?.text === ''
    )
      return null;
    const said = heardWords(a);
    const field = FIELDS[wordsFrom]!;
    const text = normalise(words);
    const fixes = [{ kind: 'use words' as const, text }];
    if (!saysSomething(context, said)) {
      if (a.state === 'decorative') return null;
      const here = said === null ? 'There is no alt text' : `Only ${quoted(normalise(said), 30)} is said here`;
      return { outcome: 'cantTell', message: `${here}, and the ${field} in its file is ${quoted(text)}.`, fixes };
    }
    if (wordsFrom !== 'alt') return null;
    const own = new Set(wordsOf(said.toLowerCase()));
    const theirs = wordsOf(text.toLowerCase()).filter((w) => w.length > 2);
    if (theirs.length === 0 || theirs.filter((w) => own.has(w)).length >= theirs.length * USED) return null;
    return {
      outcome: 'cantTell',
      message: `The ${field} in its file is ${quoted(text)}, and the page says something else.`,
      fixes,
    };
  },
});
