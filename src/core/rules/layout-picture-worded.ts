import { z } from 'zod';
import { OFFICE } from './support/formats';
import { defineRule } from './support/rule';
import { COMMON_PRACTICE, WCAG2ICT } from './support/sources';
import { quoted } from './support/words';

export default defineRule({
  id: 'layout-picture-worded',
  title: 'Layout picture with alt text',
  group: 'purpose',
  about:
    'What stands on a layout or a master is drawn behind every slide that uses it. Screen readers skip it there, so its alt text reaches nobody; in a PDF made from the slides it may be repeated on every page. Mark it as decorative, or put a picture that matters on the slide itself.',
  scope: 'appearance',
  gives: ['cantTell'],
  formats: OFFICE,
  sources: [WCAG2ICT, COMMON_PRACTICE],
  parameters: z.object({}),
  examples: {
    passes: [
      {
        html: 'picture on a layout, decorative',
        objects: [{ element: 'picture', hidden: 'behind the slides', isDecorative: true }],
      },
      { html: 'picture on a layout, no alt text', objects: [{ element: 'picture', hidden: 'behind the slides' }] },
      { html: 'picture on a slide, alt text “The ferry”', objects: [{ element: 'picture', alt: 'The ferry' }] },
    ],
    fails: [
      {
        html: 'picture on a layout, alt text “Blue wave”',
        objects: [{ element: 'picture', hidden: 'behind the slides', alt: 'Blue wave' }],
        message: 'It is on a layout, where screen readers skip its alt text “Blue wave”.',
      },
      {
        html: 'picture on a master, alt text “Skerry Sound”',
        objects: [{ element: 'picture', hidden: 'behind the slides', alt: 'Skerry Sound' }],
        message: 'It is on a layout, where screen readers skip its alt text “Skerry Sound”.',
      },
    ],
  },
  check({ appearance: a }) {
    if (a.accessible.hidden !== 'behind the slides' || a.state !== 'described') return null;
    return {
      outcome: 'cantTell',
      message: { id: 'layout-picture-worded.worded', values: { text: quoted(a.accessible.name, 60) } },
      fixes: [{ kind: 'mark decorative' }],
    };
  },
});
