import { z } from 'zod';
import { defineRule } from './support/rule';
import { F30 } from './support/sources';
import { bare, clipped, heardWords, languageWords, trimmedSpan } from './support/words';
import { normalise } from '../words/graphemes';

export default defineRule({
  id: 'placeholder',
  title: 'Placeholder alt text',
  group: 'words',
  about:
    'The alt text is a placeholder: “image”, “picture 3”, “untitled”, “alt text”, “undefined”. It only tells listeners that nobody has written it yet.',
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
    const text = bare(words);
    if (!languageWords(context).some((l) => l.placeholders.has(text))) return null;
    return {
      outcome: 'failed',
      message: { id: 'placeholder.placeholder', values: { text: clipped(normalise(words)) } },
      span: trimmedSpan(words),
    };
  },
});
