import { z } from 'zod';
import { isTextPicture, recognisedWords } from '../purpose/propose';
import { WEB } from './support/formats';
import { defineRule } from './support/rule';
import { C9, F3 } from './support/sources';
import { isBlank } from '../white-space';

export default defineRule({
  id: 'informative-background',
  title: 'Informative background image',
  group: 'purpose',
  about:
    'A background image of a style sheet cannot have alt text, and disappears where backgrounds are off. That is right for decoration, but not where it is all that a link or heading contains, or where it contains text.',
  scope: 'appearance',
  sees: true,
  gives: ['cantTell'],
  formats: WEB,
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
        message: 'This background contains 4 words of text.',
      },
      {
        html: '<a href="/" style="background-image:url(logo.png)"></a>',
        message: 'This background is all that a link without a name contains.',
      },
      {
        html: '<h1 style="background-image:url(headline.png)"></h1>',
        message: 'This background is all that a heading contains.',
      },
    ],
  },
  check({ appearance: a, picture }) {
    if (a.element !== 'css-background') return null;
    const {
      context: { control },
    } = a;
    if (control && !control.hidden && control.text === '' && isBlank(control.name))
      return { outcome: 'cantTell', message: { id: 'informative-background.control', values: { kind: control.kind } } };
    if (a.context.heading === '') return { outcome: 'cantTell', message: { id: 'informative-background.heading' } };
    if (isTextPicture(picture?.analysis))
      return {
        outcome: 'cantTell',
        message: { id: 'informative-background.text', values: { words: recognisedWords(picture!.analysis) } },
      };
    return null;
  },
});
