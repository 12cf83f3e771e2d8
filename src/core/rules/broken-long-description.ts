import { z } from 'zod';
import { MARKUP } from './support/formats';
import { defineRule } from './support/rule';
import { F67, HTML_OBSOLETE } from './support/sources';
import { clipped } from './support/words';

export default defineRule({
  id: 'broken-long-description',
  title: 'Broken long description',
  group: 'purpose',
  about:
    'A long description is promised by aria-describedby, aria-details, longdesc or a link, but it leads nowhere: the id is not on the page, or the element is empty. The longdesc attribute itself is obsolete, and few people can follow it.',
  scope: 'appearance',
  gives: ['failed', 'advice'],
  formats: MARKUP,
  sources: [F67, HTML_OBSOLETE],
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<img src="a.svg" alt="Tides" aria-describedby="t"><p id="t">High at 7.</p>' },
      { html: '<img src="a.svg" alt="Tides"> <a href="#t">Description</a><p id="t">High at 7.</p>' },
    ],
    fails: [
      {
        html: '<img src="a.svg" alt="Tides" aria-describedby="tides">',
        message: 'aria-describedby leads to “tides”, which is not on the page.',
      },
      {
        html: '<img src="a.svg" alt="Tides" aria-details="t"><div id="t"> </div>',
        message: 'aria-details leads to “t”, which is empty.',
      },
      {
        html: '<img src="a.svg" alt="Tides"><a href="#t">Long description</a>',
        message: 'The description link leads to “#t”, which is not on the page.',
      },
      {
        html: '<img src="a.svg" alt="Tides" longdesc="tides.html">',
        message: 'longdesc is obsolete, and few can follow it: put a link beside the picture.',
      },
    ],
  },
  check({ appearance: a }) {
    if (a.accessible.hidden) return null;
    const lost = a.accessible.descriptions.find((d) => d.leads === 'nowhere' || d.leads === 'to an empty place');
    if (lost) {
      const values = { by: lost.by, target: clipped(lost.target) };
      if (lost.by === 'details') return { outcome: 'failed', message: { id: 'broken-long-description.details' } };
      if (lost.target === '')
        return { outcome: 'failed', message: { id: 'broken-long-description.no-target', values } };
      const id = lost.leads === 'nowhere' ? 'broken-long-description.not-there' : 'broken-long-description.empty';
      return { outcome: 'failed', message: { id, values } };
    }
    if (a.accessible.descriptions.some((d) => d.by === 'longdesc'))
      return { outcome: 'advice', message: { id: 'broken-long-description.obsolete' } };
    return null;
  },
});
