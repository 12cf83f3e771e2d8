import { z } from 'zod';
import { MARKUP } from './support/formats';
import { defineRule } from './support/rule';
import { HTML_ALT } from './support/sources';
import { clipped } from './support/words';
import { isBlank } from '../white-space';

export default defineRule({
  id: 'misplaced-alt',
  title: 'Alt attribute on the wrong element',
  group: 'presence',
  about:
    'Only img, area and input type=image take an alt attribute. On a link, a div, an svg or an object, browsers ignore it, and screen readers skip it.',
  scope: 'appearance',
  gives: ['failed'],
  formats: MARKUP,
  sources: [HTML_ALT],
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<img src="a.jpg" alt="The ferry">' },
      { html: '<a href="/fares"><img src="a.jpg" alt="Fares"></a>' },
      { html: '<div alt="No picture in here">Text</div>' },
    ],
    fails: [
      {
        html: '<svg alt="Tides"><path d="M0 0h9"/></svg>',
        message: '“Tides” is in an alt attribute on svg, where browsers ignore it.',
      },
      {
        html: '<a href="/" alt="Front page"><img src="logo.svg" alt=""></a>',
        message: '“Front page” is in an alt attribute on a, where browsers ignore it.',
      },
      {
        html: '<div style="background-image:url(sea.jpg)" alt="The sea"></div>',
        message: '“The sea” is in an alt attribute on div, where browsers ignore it.',
      },
    ],
  },
  check({ appearance: a }) {
    if (!a.markup.strayAlt || isBlank(a.markup.strayAlt.text)) return null;
    const { element, text } = a.markup.strayAlt;
    const missing = a.state === 'missing' || (a.context.control !== null && isBlank(a.context.control.name));
    return {
      outcome: 'failed',
      message: { id: 'misplaced-alt.misplaced', values: { text: clipped(text), element } },
      fixes: missing ? [{ kind: 'use words', text }] : [],
    };
  },
});
