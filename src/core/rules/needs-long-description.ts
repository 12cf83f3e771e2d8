import { z } from 'zod';
import { defineRule } from './rule';
import { ARIA15, G92, G95, SC_1_1_1 } from './sources';
import { count } from './words';
import { lengthOf } from '../words/graphemes';

export default defineRule({
  id: 'needs-long-description',
  title: 'Needs a long description',
  group: 'purpose',
  about:
    'A chart, a diagram or a map holds more than a short text can say. What it shows belongs into the page: under it, in a caption, in a part that opens, or on a page of its own with a link beside the picture.',
  scope: 'appearance',
  gives: ['cantTell'],
  sources: [SC_1_1_1, G92, G95, ARIA15],
  parameters: z.object({
    /** Graphemes of a caption, or of the words themselves, from which they may say it all. */
    caption: z.int().min(0).max(2000).default(120),
  }),
  examples: {
    passes: [
      {
        html: '<img src="a.svg" alt="Tides in June" aria-describedby="t"><p id="t">High at 7, low at 13.</p>',
        purpose: 'complex',
      },
      {
        html: '<img src="a.svg" alt="Tides in June"><details><summary>As text</summary>High at 7.</details>',
        purpose: 'complex',
      },
      { html: '<img src="a.jpg" alt="The ferry">' },
    ],
    fails: [
      {
        html: '<img src="a.svg" alt="Tides in June">',
        purpose: 'complex',
        message: 'It is complex, and no long description is attached.',
      },
      {
        html: '<figure><img src="a.svg" alt="Tides in June"><figcaption>Tides</figcaption></figure>',
        purpose: 'complex',
        message: 'It is complex, and all there is beside it is a caption of 5 characters.',
      },
    ],
  },
  check({ appearance: a, purpose }, { caption }) {
    if (purpose !== 'complex' || a.hidden || a.state === 'silent' || lengthOf(a.name) >= caption) return null;
    if (a.descriptions.some((d) => d.leads === 'to text' || d.leads === 'elsewhere')) return null;
    const length = lengthOf(a.caption ?? '');
    if (length >= caption) return null;
    const beside =
      length > 0
        ? `all there is beside it is a caption of ${count(length, 'character')}`
        : 'no long description is attached';
    return { outcome: 'cantTell', message: `It is complex, and ${beside}.` };
  },
});
