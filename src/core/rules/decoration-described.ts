import { z } from 'zod';
import { defineRule } from './rule';
import { F39, TUTORIAL_DECORATIVE } from './sources';
import { bare, heardWords, languageWords, quoted, trimmedSpan } from './words';
import { normalise } from '../words/graphemes';

export default defineRule({
  id: 'decoration-described',
  title: 'Decoration with words',
  group: 'purpose',
  about:
    'The words say of themselves that the picture carries nothing: “spacer”, “divider”, “decorative image”. Decoration stays silent, and is not announced as decoration. A description that merely contains such a word is left alone.',
  scope: 'appearance',
  gives: ['failed'],
  sources: [F39, TUTORIAL_DECORATIVE],
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<img src="a.jpg" alt="Decorative plasterwork on the ceiling">' },
      { html: '<img src="a.jpg" alt="">' },
      { html: '<img src="a.jpg" alt="A border collie at the ticket office">' },
    ],
    fails: [
      {
        html: '<img src="wave-3.svg" alt="divider">',
        message: '“divider” announces decoration: nothing should be heard here.',
      },
      {
        html: '<img src="a.gif" alt="Spacer image">',
        message: '“Spacer image” announces decoration: nothing should be heard here.',
      },
      {
        html: '<img src="a.jpg" alt="(purely decorative)">',
        message: '“(purely decorative)” announces decoration: nothing should be heard here.',
      },
      {
        html: '<img src="a.jpg" alt="Trennlinie">',
        lang: 'de',
        message: '“Trennlinie” announces decoration: nothing should be heard here.',
      },
      {
        html: '<img src="a.jpg" alt="Image décorative">',
        lang: 'fr',
        message: '“Image décorative” announces decoration: nothing should be heard here.',
      },
    ],
  },
  check(spot) {
    const words = heardWords(spot.appearance);
    if (words === null) return null;
    const text = bare(words);
    const says = languageWords(spot).some((l) => l.decoration.some((d) => d.test(text)));
    if (!says) return null;
    return {
      outcome: 'failed',
      message: `${quoted(normalise(words))} announces decoration: nothing should be heard here.`,
      span: trimmedSpan(words),
      mends: spot.appearance.control?.text === '' ? [] : [{ kind: 'make silent' }],
    };
  },
});
