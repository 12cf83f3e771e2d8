import { z } from 'zod';
import type { Appearance } from '../model/appearance';
import { EVERY_FORMAT } from './support/formats';
import { defineRule } from './support/rule';
import { F30, WCAG2ICT } from './support/sources';
import { bare } from '../words/said';
import { clipped, heardWords, languageWords, trimmedSpan } from './support/words';
import { normalise } from '../words/graphemes';

const BRACKETED = /^\s*[[({<].*[\])}>]\s*$/;

/** Whether a text is one of a row of names in brackets: `[None]` beside `[Top]` is an option of a program. */
function isOption(words: string, a: Appearance, isPlaceholder: (text: string) => boolean): boolean {
  const other = a.context.siblingText ?? '';
  return BRACKETED.test(words) && BRACKETED.test(other) && !isPlaceholder(other);
}

export default defineRule({
  id: 'placeholder',
  title: 'Placeholder alt text',
  group: 'words',
  about:
    'The alt text is a placeholder: “image”, “picture 3”, “untitled”, “alt text”, “undefined”. It only tells listeners that nobody has written it yet.',
  scope: 'appearance',
  gives: ['failed'],
  formats: EVERY_FORMAT,
  documentSources: [WCAG2ICT],
  subsumes: ['too-brief', 'word-list', 'same-words'],
  sources: [F30],
  notForFormulas: true,
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<img src="a.jpg" alt="Picture frames in the shop window">' },
      { html: '<img src="a.jpg" alt="Photo booth">' },
      { html: '<img src="a.jpg" alt="">' },
      { html: '<dl><dt><img src="t.png" alt="[Top]"></dt><dt><img src="n.png" alt="[None]"></dt></dl>' },
    ],
    fails: [
      {
        html: '<img src="a.jpg" alt="image">',
        message: '“image” is a placeholder for a text that nobody has written.',
      },
      {
        html: '<img src="a.jpg" alt="Picture 3">',
        message: '“Picture 3” is a placeholder for a text that nobody has written.',
      },
      {
        html: '<img src="a.jpg" alt="[alt text here]">',
        message: '“[alt text here]” is a placeholder for a text that nobody has written.',
      },
      {
        html: '<img src="a.jpg" alt="banner1">',
        message: '“banner1” is a placeholder for a text that nobody has written.',
      },
      {
        html: '<img src="a.jpg" alt="Platzhalter">',
        lang: 'de',
        message: '“Platzhalter” is a placeholder for a text that nobody has written.',
      },
      {
        html: '<img src="a.jpg" alt="Sans titre">',
        lang: 'fr',
        message: '“Sans titre” is a placeholder for a text that nobody has written.',
      },
      {
        html: '<img src="a.jpg" alt="Imagen 2">',
        lang: 'es',
        message: '“Imagen 2” is a placeholder for a text that nobody has written.',
      },
    ],
  },
  check(context) {
    const words = heardWords(context.appearance);
    if (words === null) return null;
    const isPlaceholder = (t: string) => languageWords(context).some((l) => l.placeholders.has(bare(t)));
    if (!isPlaceholder(words) || isOption(words, context.appearance, isPlaceholder)) return null;
    return {
      outcome: 'failed',
      message: { id: 'placeholder.placeholder', values: { text: clipped(normalise(words)) } },
      span: trimmedSpan(words),
    };
  },
});
