import { z } from 'zod';
import { isBlank } from '../formats/html/tree';
import { defineRule } from './support/rule';
import { F65, HTML_ALT, SC_1_1_1 } from './support/sources';

export default defineRule({
  id: 'no-alt',
  title: 'No alt text',
  group: 'presence',
  about:
    'A picture without an alt attribute, and with no other name. A screen reader has nothing to say, so it says the file name, the address, or nothing; a reader who cannot see the picture does not learn whether it mattered.',
  scope: 'appearance',
  gives: ['failed'],
  subsumes: ['unnamed-control'],
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
    const caption = a.context.caption ? ' The caption does not stand in for it.' : '';
    return {
      outcome: 'failed',
      message: `There is no alt attribute: a listener hears the file name, or nothing.${caption}`,
    };
  },
});
