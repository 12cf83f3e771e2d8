import { z } from 'zod';
import { defineRule } from './support/rule';
import { COMMON_PRACTICE, TUTORIAL_TIPS } from './support/sources';
import { heardWords, languageWords, quoted } from './support/words';

export default defineRule({
  id: 'needless-opening',
  title: 'Needless opening',
  group: 'words',
  about:
    '“Image of”, “photo of”, “this is a picture of”: a screen reader has already said that it is an image. Where the medium is the point (a painting, a map, a chart, a screenshot) it is worth a word, and Detto lets it stand.',
  scope: 'appearance',
  gives: ['advice'],
  sources: [TUTORIAL_TIPS, COMMON_PRACTICE],
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
        message: '“Image of” is said already: every listener hears that it is an image.',
      },
      {
        html: '<img src="a.jpg" alt="This is a photo of two puffins">',
        message: '“This is a photo of” is said already: every listener hears that it is an image.',
      },
      {
        html: '<img src="a.jpg" alt="Das Bild zeigt die Fähre">',
        lang: 'de',
        message: '“Das Bild zeigt” is said already: every listener hears that it is an image.',
      },
      {
        html: '<img src="a.jpg" alt="Une photo de l’île">',
        lang: 'fr',
        message: '“Une photo de” is said already: every listener hears that it is an image.',
      },
      {
        html: '<img src="a.jpg" alt="Foto van de haven">',
        lang: 'nl',
        message: '“Foto van” is said already: every listener hears that it is an image.',
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
          message: `${quoted(opening[1]!)} is said already: every listener hears that it is an image.`,
          span: { start, end: start + opening[1]!.length },
          fixes: [{ kind: 'use words', text: rest.charAt(0).toLocaleUpperCase() + rest.slice(1) }],
        };
      }
    return null;
  },
});
