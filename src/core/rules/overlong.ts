import { z } from 'zod';
import { lengthOf } from '../words/graphemes';
import { MOST_READ } from './support/readable';
import { EVERY_FORMAT } from './support/formats';
import { defineRule } from './support/rule';
import { COMMON_PRACTICE } from './support/sources';
import { heardWords, trimmedSpan } from './support/words';

export default defineRule({
  id: 'overlong',
  title: 'Alt text too long',
  group: 'words',
  about:
    'Alt text is heard in one go: a listener can neither pause in it nor go back a word. Whatever needs more than a sentence belongs in the text of the page, or in a long description with headings and lists.',
  scope: 'appearance',
  gives: ['advice', 'cantTell'],
  formats: EVERY_FORMAT,
  sources: [COMMON_PRACTICE],
  notForFormulas: true,
  parameters: z.object({
    /** Graphemes from which a text is over this collection's limit. */
    limit: z.int().min(20).max(1000).default(100).meta({
      label: 'Characters over the limit',
      lead: 'A text is over the limit with more than',
      unit: 'characters,',
    }),
    /** Graphemes over which a long description is proposed. */
    longDescription: z.int().min(50).max(2000).default(250).meta({
      label: 'Characters from which a long description is needed',
      lead: 'and needs a long description with more than',
      unit: 'characters.',
    }),
  }),
  examples: {
    passes: [
      { html: '<img src="a.jpg" alt="The ferry at the quay">' },
      { html: `<img src="a.jpg" alt="${'x'.repeat(100)}">` },
    ],
    fails: [
      {
        html: `<img src="a.jpg" alt="${'seal '.repeat(28)}ab">`,
        message: '142 characters, 42 over this collection’s limit of 100.',
      },
      {
        html: `<img src="a.jpg" alt="${'x'.repeat(260)}">`,
        message:
          '260 characters, 160 over this collection’s limit of 100: that much belongs on the page or in a long description.',
      },
      {
        html: `<img src="a.jpg" alt="${'seal '.repeat(20_000)}">`,
        message:
          'About 100,000 characters, of which the rules read the first 5,000: that much belongs on the page or in a long description.',
      },
    ],
  },
  check({ appearance, uncut = 0 }, { limit, longDescription }) {
    const words = heardWords(appearance);
    if (words === null || words.length <= limit) return null;
    if (uncut > MOST_READ && words.length > MOST_READ - 2)
      return {
        outcome: 'cantTell',
        message: { id: 'overlong.uncut', values: { length: uncut, read: MOST_READ } },
        span: trimmedSpan(words),
      };
    const length = lengthOf(words);
    if (length <= limit) return null;
    const much = length > longDescription;
    return {
      outcome: much ? 'cantTell' : 'advice',
      message: { id: much ? 'overlong.much' : 'overlong.over', values: { length, over: length - limit, limit } },
      span: trimmedSpan(words),
    };
  },
});
