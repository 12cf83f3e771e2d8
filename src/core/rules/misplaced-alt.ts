import { z } from 'zod';
import { isBlank } from '../formats/html/tree';
import { defineRule } from './support/rule';
import { HTML_ALT } from './support/sources';
import { quoted } from './support/words';

export default defineRule({
  id: 'misplaced-alt',
  title: 'Alt where none belongs',
  group: 'presence',
  about:
    'Only img, area and input type=image take an alt attribute. On a link, a div, an svg or an object it is an attribute like any other that nobody reads: the words are written, and nobody hears them.',
  scope: 'appearance',
  gives: ['failed'],
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
        message: '“Tides” stands in an alt on svg, where nobody hears it.',
      },
      {
        html: '<a href="/" alt="Front page"><img src="logo.svg" alt=""></a>',
        message: '“Front page” stands in an alt on a, where nobody hears it.',
      },
      {
        html: '<div style="background-image:url(sea.jpg)" alt="The sea"></div>',
        message: '“The sea” stands in an alt on div, where nobody hears it.',
      },
    ],
  },
  check({ appearance: a }) {
    if (!a.markup.strayAlt || isBlank(a.markup.strayAlt.text)) return null;
    const { element, text } = a.markup.strayAlt;
    const missing = a.state === 'missing' || (a.context.control !== null && isBlank(a.context.control.name));
    return {
      outcome: 'failed',
      message: `${quoted(text)} stands in an alt on ${element}, where nobody hears it.`,
      fixes: missing ? [{ kind: 'use words', text }] : [],
    };
  },
});
