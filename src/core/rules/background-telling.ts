import { z } from 'zod';
import { isBlank } from '../html/tree';
import { defineRule } from './rule';
import { C9, F3 } from './sources';

export default defineRule({
  id: 'background-telling',
  title: 'Background that tells something',
  group: 'purpose',
  about:
    'A picture of the style sheet has no place for words and vanishes where backgrounds are off. That is right for decoration; where it is all that a link or a heading holds, it carries what the page means to say.',
  scope: 'appearance',
  gives: ['cantTell'],
  sources: [F3, C9],
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<div style="background-image:url(waves.png)"><p>Sailings</p></div>' },
      { html: '<a href="/" style="background-image:url(logo.png)">Front page</a>' },
      { html: '<a href="/" aria-label="Front page" style="background-image:url(logo.png)"></a>' },
    ],
    fails: [
      {
        html: '<a href="/" style="background-image:url(logo.png)"></a>',
        message: 'This background is all that a link without a name holds.',
      },
      {
        html: '<h1 style="background-image:url(headline.png)"></h1>',
        message: 'This background is all that a heading holds.',
      },
    ],
  },
  check({ appearance: a }) {
    if (a.element !== 'css-background') return null;
    const { control } = a;
    if (control && !control.hidden && control.text === '' && isBlank(control.name))
      return { outcome: 'cantTell', message: `This background is all that a ${control.kind} without a name holds.` };
    if (a.heading === '') return { outcome: 'cantTell', message: 'This background is all that a heading holds.' };
    return null;
  },
});
