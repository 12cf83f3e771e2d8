import { z } from 'zod';
import { defineRule } from './support/rule';
import { HTML_AAM, HTML_ALT } from './support/sources';
import { quoted } from './support/words';

export default defineRule({
  id: 'title-only',
  title: 'Only a title',
  group: 'presence',
  about:
    'The only words are in the title attribute. They show when a mouse rests on the picture, which nobody does by touch or keyboard, and not every screen reader says them. The title is no replacement for alt text.',
  scope: 'appearance',
  gives: ['cantTell'],
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
        message: 'Only the title says something, “The ferry at the quay”: nobody sees it by touch or keyboard.',
      },
      {
        html: '<div role="img" title="The ferry"></div>',
        message: 'Only the title says something, “The ferry”: nobody sees it by touch or keyboard.',
      },
    ],
  },
  check({ appearance: a }) {
    // An empty alt beside it is a contradiction, of which another rule tells.
    if (a.accessible.nameSource !== 'title' || a.accessible.hidden || a.accessible.ignored || a.markup.alt === '')
      return null;
    return {
      outcome: 'cantTell',
      message: `Only the title says something, ${quoted(a.accessible.name)}: nobody sees it by touch or keyboard.`,
      fixes: [{ kind: 'use words', text: a.accessible.name }],
    };
  },
});
