import { z } from 'zod';
import { isBlank } from '../formats/html/tree';
import { isTextPicture, recognisedWords } from '../purpose/propose';
import { count } from './support/words';
import { defineRule } from './support/rule';
import { C9, F3 } from './support/sources';

export default defineRule({
  id: 'informative-background',
  title: 'Background that tells something',
  group: 'purpose',
  about:
    'A picture of the style sheet has no place for words and vanishes where backgrounds are off. That is right for decoration; where it is all that a link or a heading holds, or something is written in it, it carries what the page means to say.',
  scope: 'appearance',
  sees: true,
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
        html: '<div style="background-image:url(sale.png)"><p>Welcome</p></div>',
        pictures: {
          'sale.png': { analysis: { kind: 'poster', sure: 0.9, text: 'Half price until Sunday', textShare: 0.3 } },
        },
        message: '4 words are written in this background.',
      },
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
  check({ appearance: a, picture }) {
    if (a.element !== 'css-background') return null;
    const {
      context: { control },
    } = a;
    if (control && !control.hidden && control.text === '' && isBlank(control.name))
      return { outcome: 'cantTell', message: `This background is all that a ${control.kind} without a name holds.` };
    if (a.context.heading === '')
      return { outcome: 'cantTell', message: 'This background is all that a heading holds.' };
    if (isTextPicture(picture?.analysis))
      return {
        outcome: 'cantTell',
        message: `${count(recognisedWords(picture!.analysis), 'word')} are written in this background.`,
      };
    return null;
  },
});
