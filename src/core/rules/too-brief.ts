import { z } from 'zod';
import { lengthOf, normalise } from '../words/graphemes';
import { isCallOut } from './support/call-out';
import { EVERY_FORMAT } from './support/formats';
import { defineRule } from './support/rule';
import { SC_1_1_1, WCAG2ICT } from './support/sources';
import { clipped, heardWords, trimmedSpan } from './support/words';

/** Scripts that write a word in one or two characters. */
const DENSE = /[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Hangul}\p{Script=Thai}]/u;

export default defineRule({
  id: 'too-brief',
  title: 'Alt text too short',
  group: 'words',
  about:
    'One or two characters, or symbols without a letter or digit, rarely replace a picture. Scripts that write whole words in one or two characters are exempt, and so are links and buttons, where “1” or “A” may be enough.',
  scope: 'appearance',
  gives: ['cantTell'],
  formats: EVERY_FORMAT,
  documentSources: [WCAG2ICT],
  subsumes: ['same-words', 'mixed-words'],
  sources: [SC_1_1_1],
  notForFormulas: true,
  parameters: z.object({
    /** Graphemes that a text should have. */
    minimum: z
      .int()
      .min(1)
      .max(50)
      .default(3)
      .meta({ label: 'Characters at least', lead: 'A text is too brief with fewer than', unit: 'characters.' }),
  }),
  examples: {
    passes: [
      { html: '<img src="a.jpg" alt="Map">' },
      { html: '<img src="a.jpg" alt="鳥" lang="ja">' },
      { html: '<pre>cp a b <img src="images/5.png" alt="5"></pre>' },
      { html: '<a href="?p=2"><img src="2.gif" alt="2"></a>' },
    ],
    fails: [
      { html: '<img src="a.jpg" alt="***">', message: '“***” has neither a letter nor a digit.' },
      { html: '<img src="a.jpg" alt="A">', message: '“A” is 1 character; this collection wants at least 3.' },
    ],
  },
  check(context, { minimum }) {
    const words = heardWords(context.appearance);
    if (words === null || context.purpose === 'functional') return null;
    const text = normalise(words);
    if (isCallOut(text, context)) return null;
    const span = trimmedSpan(words);
    if (!/[\p{L}\p{N}]/u.test(text)) {
      // A symbol that has a name of its own is said by it.
      if (/^(?:\p{Extended_Pictographic}\ufe0f?|\p{Sc}|\p{Sm})$/u.test(text)) return null;
      return { outcome: 'cantTell', message: { id: 'too-brief.no-letter', values: { text: clipped(text) } }, span };
    }
    const length = lengthOf(text);
    if (length >= minimum || DENSE.test(text)) return null;
    return {
      outcome: 'cantTell',
      message: { id: 'too-brief.short', values: { text: clipped(text), length, minimum } },
      span,
    };
  },
});
