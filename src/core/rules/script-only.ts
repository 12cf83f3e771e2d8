import { z } from 'zod';
import { WEB } from './support/formats';
import { defineRule } from './support/rule';
import { COMMON_PRACTICE } from './support/sources';

export default defineRule({
  id: 'script-only',
  title: 'Added by script',
  group: 'files',
  about:
    'The picture is not in the page as the server sends it; a script adds it. Search engines may see it late or never, and its alt text has to be changed where the script takes it from. This is only known for pages that were opened in a browser.',
  scope: 'appearance',
  gives: ['advice'],
  formats: WEB,
  sources: [COMMON_PRACTICE],
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<img src="boat.jpg" alt="The ferry at the quay">' },
      { html: '<img src="wave.svg" alt="">', byScript: true },
    ],
    fails: [
      {
        html: '<img src="boat.jpg" alt="The ferry at the quay">',
        byScript: true,
        message: 'A script adds it; it is not in the page as the server sends it.',
      },
      {
        html: '<main><a href="/map"><img src="map.png" alt="Map of the harbour"></a></main>',
        byScript: true,
        message: 'A script adds it; it is not in the page as the server sends it.',
      },
    ],
  },
  check({ appearance: a }) {
    // Nobody looks for what is decorative or in a style sheet.
    if (a.location.kind !== 'script' || a.state === 'decorative') return null;
    return { outcome: 'advice', message: { id: 'script-only.script' } };
  },
});
