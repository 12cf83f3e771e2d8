import { z } from 'zod';
import type { Purpose } from '../model/appearance';
import { isSurely } from '../model/picture-analysis';
import { echoOf } from './support/echoes';
import { EVERY_FORMAT } from './support/formats';
import { defineRule } from './support/rule';
import { COMMON_PRACTICE, H2 } from './support/sources';
import { clipped, heardWords, languageOf, trimmedSpan } from './support/words';
import { normalise } from '../words/graphemes';

/** Purposes of pictures that hold more than what stands beside them. */
const TELLING: readonly Purpose[] = ['complex', 'image of text', 'image map'];

export default defineRule({
  id: 'echo',
  title: 'Redundant alt text',
  group: 'sets',
  about:
    'The alt text repeats the caption, the title, or the link or heading next to the picture, so a listener hears the same words twice. Say what the text beside it does not, or leave the alt empty.',
  scope: 'appearance',
  sees: true,
  gives: ['advice'],
  formats: EVERY_FORMAT,
  sources: [H2, COMMON_PRACTICE],
  notForFormulas: true,
  parameters: z.object({}),
  examples: {
    passes: [
      {
        html: '<figure><img src="a.jpg" alt="Red ferry with its ramp down"><figcaption>The Brannoch ferry</figcaption></figure>',
      },
      { html: '<a href="/fares"><img src="a.svg" alt=""> Fares</a>' },
      { html: '<img src="a.jpg" title="Brannoch quay">' },
      {
        html: '<p><img src="a.png" alt="Fares"> Fares</p>',
        pictures: { 'a.png': { analysis: { kind: 'icon', sure: 0.9 } } },
      },
      { html: '<p>We sail to Brannoch</p><img src="a.jpg" alt="Brannoch quay at low tide">' },
    ],
    fails: [
      {
        html: '<figure><img src="a.jpg" alt="The Brannoch ferry"><figcaption>The Brannoch ferry.</figcaption></figure>',
        message: '“The Brannoch ferry” repeats the caption: it is heard twice.',
      },
      {
        html: '<a href="/fares"><img src="a.svg" alt="Fares"> Fares</a>',
        message: '“Fares” repeats the text of the same link: it is heard twice.',
      },
      {
        html: '<img src="a.jpg" alt="Brannoch quay" title="Brannoch quay">',
        message: '“Brannoch quay” repeats the title: it is heard twice.',
      },
      {
        html: '<div><img src="a.jpg" alt="Day tickets"><h3>Day tickets</h3></div>',
        message: '“Day tickets” repeats the heading below: it is heard twice.',
      },
    ],
  },
  check(context) {
    const { appearance: a, picture, purpose } = context;
    const words = heardWords(a);
    const neighbour = words === null ? null : echoOf(a, words, languageOf(context));
    // An icon beside the same word is decoration: `decoration-with-text` tells.
    if (words === null || neighbour === null || isSurely(picture?.analysis, 'icon')) return null;
    return {
      outcome: 'advice',
      message: { id: 'echo.repeats', values: { text: clipped(normalise(words)), neighbour } },
      span: trimmedSpan(words),
      // What a diagram or a text shows is not in its caption; there, the alt text has to say more.
      fixes: a.context.control?.text === '' || TELLING.includes(purpose) ? [] : [{ kind: 'mark decorative' }],
    };
  },
});
