import { z } from 'zod';
import { defineRule } from './support/rule';
import { F67, HTML_OBSOLETE } from './support/sources';
import { quoted } from './support/words';

export default defineRule({
  id: 'broken-long-description',
  title: 'Long description that is lost',
  group: 'purpose',
  about:
    'A longer description is promised, by aria-describedby, aria-details, longdesc or a link, and whoever follows it finds nothing: the id is not on the page, or what stands there is empty. The longdesc attribute is obsolete besides: few can follow it.',
  scope: 'appearance',
  gives: ['failed', 'advice'],
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
      const by = lost.by === 'link' ? 'The description link' : lost.by;
      const where = lost.leads === 'nowhere' ? 'is not on the page' : 'is empty';
      return {
        outcome: 'failed',
        message:
          lost.by === 'details'
            ? 'The part that opens beside it is empty.'
            : lost.target === ''
              ? `${by} leads nowhere.`
              : `${by} leads to ${quoted(lost.target)}, which ${where}.`,
      };
    }
    if (a.accessible.descriptions.some((d) => d.by === 'longdesc'))
      return {
        outcome: 'advice',
        message: 'longdesc is obsolete, and few can follow it: put a link beside the picture.',
      };
    return null;
  },
});
