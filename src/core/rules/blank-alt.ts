import { z } from 'zod';
import { isBlank } from '../formats/html/tree';
import { defineRule } from './support/rule';
import { count } from './support/words';
import { H67, SC_1_1_1 } from './support/sources';

export default defineRule({
  id: 'blank-alt',
  title: 'Alt text of white space only',
  group: 'presence',
  about:
    'An alt attribute that holds only spaces, no-break spaces or zero-width characters is neither silent nor said: assistive technology still announces an image, and has nothing to say about it. Silent means an empty attribute.',
  scope: 'appearance',
  gives: ['failed'],
  sources: [SC_1_1_1, H67],
  parameters: z.object({}),
  examples: {
    passes: [{ html: '<img src="wave.svg" alt="">' }, { html: '<img src="boat.jpg" alt=" The ferry ">' }],
    fails: [
      {
        html: '<img src="wave.svg" alt=" ">',
        message: 'The alt text is 1 blank character: neither silent nor said.',
      },
      {
        html: '<img src="wave.svg" alt="&nbsp;&#8203;">',
        message: 'The alt text is 2 blank characters: neither silent nor said.',
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
      message: `The alt text is ${count([...a.markup.alt].length, 'blank character')}: neither silent nor said.`,
      span: { start: 0, end: a.markup.alt.length },
      fixes: a.context.control ? [] : [{ kind: 'mark decorative' }],
    };
  },
});
