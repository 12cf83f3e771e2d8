import { z } from 'zod';
import { EVERY_FORMAT } from './support/formats';
import { defineRule } from './support/rule';
import { COMMON_PRACTICE, TUTORIAL_TIPS } from './support/sources';
import { clipped, heardWords, languageWords } from './support/words';

export default defineRule({
  id: 'needless-opening',
  title: 'Needless opening',
  group: 'words',
  about:
    '“Image of”, “photo of”, “this is a picture of”: the screen reader has already said that it is an image. Where the medium matters (a painting, a map, a chart, a screenshot) it deserves a word, and Detto does not report it.',
  scope: 'appearance',
  gives: ['advice'],
  formats: EVERY_FORMAT,
  sources: [TUTORIAL_TIPS, COMMON_PRACTICE],
  notForFormulas: true,
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<img src="a.jpg" alt="Painting of the old lighthouse">' },
      { html: '<img src="a.jpg" alt="Map of the harbour">' },
      { html: '<img src="a.jpg" alt="Photographers on the north cliff">' },
      { html: '<img src="a.jpg" alt="Screenshot of the booking form">' },
    ],
    fails: [
      {
        html: '<img src="a.jpg" alt="Image of the ferry at the quay">',
        message: '“Image of” is not needed: a screen reader says by itself that it is an image.',
      },
      {
        html: '<img src="a.jpg" alt="This is a photo of two puffins">',
        message: '“This is a photo of” is not needed: a screen reader says by itself that it is an image.',
      },
      {
        html: '<img src="a.jpg" alt="Das Bild zeigt die Fähre">',
        lang: 'de',
        message: '“Das Bild zeigt” is not needed: a screen reader says by itself that it is an image.',
      },
      {
        html: '<img src="a.jpg" alt="Une photo de l’île">',
        lang: 'fr',
        message: '“Une photo de” is not needed: a screen reader says by itself that it is an image.',
      },
      {
        html: '<img src="a.jpg" alt="Foto van de haven">',
        lang: 'nl',
        message: '“Foto van” is not needed: a screen reader says by itself that it is an image.',
      },
    ],
  },
  check(context) {
    const words = heardWords(context.appearance);
    if (words === null) return null;
    for (const { openings } of languageWords(context))
      for (const pattern of openings) {
        const opening = pattern.exec(words);
        const rest = opening ? words.slice(opening[0].length) : '';
        if (!opening || !/[\p{L}\p{N}]/u.test(rest)) continue;
        const start = opening[0].length - opening[0].trimStart().length;
        return {
          outcome: 'advice',
          message: { id: 'needless-opening.opening', values: { opening: clipped(opening[1]!) } },
          span: { start, end: start + opening[1]!.length },
          fixes: [{ kind: 'use words', text: rest.charAt(0).toLocaleUpperCase() + rest.slice(1) }],
        };
      }
    return null;
  },
});
