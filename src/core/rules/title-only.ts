import { z } from 'zod';
import { MARKUP } from './support/formats';
import { defineRule } from './support/rule';
import { HTML_AAM, HTML_ALT } from './support/sources';
import { clipped } from './support/words';

export default defineRule({
  id: 'title-only',
  title: 'Title instead of alt text',
  group: 'presence',
  about:
    'The only text is in the title attribute. It appears when a mouse rests on the picture, so touch and keyboard users never see it, and not every screen reader reads it out. A title does not replace alt text.',
  scope: 'appearance',
  gives: ['cantTell'],
  formats: MARKUP,
  sources: [HTML_AAM, HTML_ALT],
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<img src="boat.jpg" alt="The ferry at the quay" title="Photo: Ann Roe">' },
      { html: '<div hidden><img src="boat.jpg" title="The ferry"></div>' },
    ],
    fails: [
      {
        html: '<img src="boat.jpg" title="The ferry at the quay">',
        message: 'The only text is the title, “The ferry at the quay”, which touch and keyboard users never see.',
      },
      {
        html: '<div role="img" title="The ferry"></div>',
        message: 'The only text is the title, “The ferry”, which touch and keyboard users never see.',
      },
    ],
  },
  check({ appearance: a }) {
    // An empty alt beside it is a contradiction, of which another rule tells.
    if (a.accessible.nameSource !== 'title' || a.accessible.hidden || a.accessible.ignored || a.markup.alt === '')
      return null;
    return {
      outcome: 'cantTell',
      message: { id: 'title-only.title', values: { title: clipped(a.accessible.name) } },
      fixes: [{ kind: 'use words', text: a.accessible.name }],
    };
  },
});
