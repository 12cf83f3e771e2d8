import { z } from 'zod';
import { isBlank } from '../formats/html/tree';
import { defineRule } from './support/rule';
import { F65, HTML_ALT, SC_1_1_1 } from './support/sources';

export default defineRule({
  id: 'no-alt',
  title: 'Missing alt text',
  group: 'presence',
  about:
    'The picture has no alt attribute and no other accessible name. Screen readers announce the file name, the address, or nothing at all, and nobody who cannot see the picture learns whether it mattered.',
  scope: 'appearance',
  gives: ['failed'],
  subsumes: ['unnamed-control', 'needs-long-description'],
  sources: [SC_1_1_1, F65, HTML_ALT],
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<img src="boat.jpg" alt="The ferry at the quay">' },
      { html: '<img src="wave.svg" alt="">' },
      { html: '<img src="boat.jpg" aria-label="The ferry at the quay">' },
      { html: '<img src="boat.jpg" role="presentation">' },
      { html: '<div hidden><img src="boat.jpg"></div>' },
    ],
    fails: [
      {
        html: '<img src="boat.jpg">',
        message: 'There is no alt attribute: a listener hears the file name, or nothing.',
      },
      {
        html: '<figure><img src="boat.jpg"><figcaption>The ferry</figcaption></figure>',
        message:
          'There is no alt attribute: a listener hears the file name, or nothing. The caption does not stand in for it.',
      },
    ],
  },
  check({ appearance: a }) {
    if (
      a.element !== 'img' ||
      a.markup.alt !== null ||
      a.accessible.hidden ||
      a.accessible.ignored ||
      !isBlank(a.accessible.name)
    )
      return null;
    return {
      outcome: 'failed',
      message: { id: a.context.caption ? 'no-alt.caption' : 'no-alt.missing' },
    };
  },
});
