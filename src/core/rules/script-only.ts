import { z } from 'zod';
import { defineRule } from './support/rule';
import { COMMON_PRACTICE } from './support/sources';

export default defineRule({
  id: 'script-only',
  title: 'Only by script',
  group: 'files',
  about:
    'The picture does not stand in the page as it is sent; a script puts it there. Search engines may see it late or never, and its words have to be changed where the script takes them from. It is known only of pages that were opened in a browser.',
  scope: 'appearance',
  gives: ['advice'],
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
        message: 'Only a script puts it into the page.',
      },
      {
        html: '<main><a href="/map"><img src="map.png" alt="Map of the harbour"></a></main>',
        byScript: true,
        message: 'Only a script puts it into the page.',
      },
    ],
  },
  check({ appearance: a }) {
    // Nobody looks for what is decorative or in a style sheet.
    if (a.location.kind !== 'script' || a.state === 'decorative') return null;
    return { outcome: 'advice', message: 'Only a script puts it into the page.' };
  },
});
