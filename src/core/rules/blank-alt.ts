import { z } from 'zod';
import { EVERY_FORMAT } from './support/formats';
import { defineRule } from './support/rule';
import { H67, SC_1_1_1, WCAG2ICT } from './support/sources';
import { isBlank } from '../white-space';

export default defineRule({
  id: 'blank-alt',
  title: 'Alt text of white space only',
  group: 'presence',
  about:
    'The alt attribute holds only spaces, no-break spaces or zero-width characters. That is neither an empty alt, which hides the picture, nor a text: assistive technology still announces an image and has nothing to say about it.',
  scope: 'appearance',
  gives: ['failed'],
  formats: EVERY_FORMAT,
  documentSources: [WCAG2ICT],
  sources: [SC_1_1_1, H67],
  parameters: z.object({}),
  examples: {
    passes: [{ html: '<img src="wave.svg" alt="">' }, { html: '<img src="boat.jpg" alt=" The ferry ">' }],
    fails: [
      {
        html: '<img src="wave.svg" alt=" ">',
        message: 'The alt text is 1 blank character: neither empty nor a text.',
      },
      {
        html: '<img src="wave.svg" alt="&nbsp;&#8203;">',
        message: 'The alt text is 2 blank characters: neither empty nor a text.',
      },
    ],
  },
  check({ appearance: a }) {
    if (
      a.markup.alt === null ||
      a.markup.alt === '' ||
      !isBlank(a.markup.alt) ||
      a.accessible.hidden ||
      a.accessible.ignored ||
      !isBlank(a.accessible.name)
    )
      return null;
    return {
      outcome: 'failed',
      message: { id: 'blank-alt.blank', values: { characters: [...a.markup.alt].length } },
      span: { start: 0, end: a.markup.alt.length },
      fixes: a.context.control ? [] : [{ kind: 'mark decorative' }],
    };
  },
});
