import { z } from 'zod';
import type { Message } from '../model/message';
import { normalise, wordsOf } from '../words/graphemes';
import { hasExtension, isDeviceName } from './support/file-names';
import { isDocumentObject } from '../model/appearance';
import { EVERY_FORMAT } from './support/formats';
import { defineRule } from './support/rule';
import type { RuleContext } from '../model/rule-context';
import { COMMON_PRACTICE, IPTC } from './support/sources';
import { bare } from '../words/said';
import { clipped, heardWords, languageWords } from './support/words';

/** Share of the file's words that are said, from which the page uses them. */
const USED = 0.3;

/** Whether a text says anything that somebody meant. */
function saysSomething(context: RuleContext, words: string | null): words is string {
  if (words === null) return false;
  const text = bare(words);
  return !languageWords(context).some((l) => l.placeholders.has(text)) && !hasExtension(words) && !isDeviceName(words);
}

export default defineRule({
  id: 'stored-words-unused',
  title: 'Alt text in the file, but not on the page',
  group: 'files',
  about:
    'Somebody stored a text for this picture in its file, and the page has none, or a different one. Stored text is not text on the page: a template may not print it. A description or a title in the file counts only where the page has no text of its own.',
  scope: 'appearance',
  sees: true,
  gives: ['cantTell'],
  formats: EVERY_FORMAT,
  documentSources: [COMMON_PRACTICE],
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
        message: 'There is no alt text, but the description in its file is “Two puffins on a grassy cliff”.',
      },
      {
        html: '<img src="a.jpg" alt="Wildlife">',
        pictures: { 'a.jpg': { analysis: { words: 'Two puffins on a grassy cliff', wordsFrom: 'alt' } } },
        message:
          'The Alt Text (Accessibility) in its file is “Two puffins on a grassy cliff”, but the page says something else.',
      },
    ],
  },
  check(context) {
    const { appearance: a, picture } = context;
    const { words, wordsFrom } = picture?.analysis ?? { words: null, wordsFrom: null };
    const takes = a.element === 'img' || a.element === 'svg' || a.element === 'role-img' || isDocumentObject(a);
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
    const text = normalise(words);
    const values = { field: wordsFrom, text: clipped(text) };
    const fixes = [{ kind: 'use words' as const, text }];
    if (!saysSomething(context, said)) {
      if (a.state === 'decorative') return null;
      const message: Message =
        said === null
          ? { id: 'stored-words-unused.missing', values }
          : { id: 'stored-words-unused.only', values: { ...values, said: clipped(normalise(said), 30) } };
      return { outcome: 'cantTell', message, fixes };
    }
    if (wordsFrom !== 'alt') return null;
    const own = new Set(wordsOf(said.toLowerCase()));
    const theirs = wordsOf(text.toLowerCase()).filter((w) => w.length > 2);
    if (theirs.length === 0 || theirs.filter((w) => own.has(w)).length >= theirs.length * USED) return null;
    return {
      outcome: 'cantTell',
      message: { id: 'stored-words-unused.other', values },
      fixes,
    };
  },
});
