import { z } from 'zod';
import { defineRule } from './support/rule';
import { F30 } from './support/sources';
import { bare, heardWords, languageWords, quoted, trimmedSpan } from './support/words';
import { normalise } from '../words/graphemes';

export default defineRule({
  id: 'placeholder',
  title: 'Placeholder',
  group: 'words',
  about:
    'Words that stand where words should be: “image”, “picture 3”, “untitled”, “alt text”, “undefined”. They tell a listener only that somebody has not got round to it.',
  scope: 'appearance',
  gives: ['failed'],
  subsumes: ['too-brief', 'word-list', 'same-words'],
  sources: [F30],
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<img src="a.jpg" alt="Picture frames in the shop window">' },
      { html: '<img src="a.jpg" alt="Photo booth">' },
      { html: '<img src="a.jpg" alt="">' },
    ],
    fails: [
      { html: '<img src="a.jpg" alt="image">', message: '“image” stands in for words that nobody has written.' },
      {
        html: '<img src="a.jpg" alt="Picture 3">',
        message: '“Picture 3” stands in for words that nobody has written.',
      },
      {
        html: '<img src="a.jpg" alt="[alt text here]">',
        message: '“[alt text here]” stands in for words that nobody has written.',
      },
      { html: '<img src="a.jpg" alt="banner1">', message: '“banner1” stands in for words that nobody has written.' },
      {
        html: '<img src="a.jpg" alt="Platzhalter">',
        lang: 'de',
        message: '“Platzhalter” stands in for words that nobody has written.',
      },
      {
        html: '<img src="a.jpg" alt="Sans titre">',
        lang: 'fr',
        message: '“Sans titre” stands in for words that nobody has written.',
      },
      {
        html: '<img src="a.jpg" alt="Imagen 2">',
        lang: 'es',
        message: '“Imagen 2” stands in for words that nobody has written.',
      },
    ],
  },
  check(context) {
    const words = heardWords(context.appearance);
    if (words === null) return null;
    const text = bare(words);
    if (!languageWords(context).some((l) => l.placeholders.has(text))) return null;
    return {
      outcome: 'failed',
      message: `${quoted(normalise(words))} stands in for words that nobody has written.`,
      span: trimmedSpan(words),
    };
  },
});
