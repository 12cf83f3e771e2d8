import { z } from 'zod';
import { partsOf } from './object-unnamed';
import { OFFICE } from './support/formats';
import { defineRule } from './support/rule';
import { COMMON_PRACTICE, WCAG2ICT } from './support/sources';

export default defineRule({
  id: 'group-words',
  title: 'Group and parts: alt text in the wrong place',
  group: 'sets',
  about:
    'A screen reader stops at the group first and then, if the reader goes on, at each part. Where both have alt text, the same thing is heard twice; where only the parts have it, the group is a stop that says nothing. Describe the group as a whole and mark the parts as decorative, or take the group apart.',
  scope: 'page',
  gives: ['cantTell'],
  formats: OFFICE,
  sources: [WCAG2ICT, COMMON_PRACTICE],
  parameters: z.object({}),
  examples: {
    passes: [
      {
        html: 'group, alt text “Two boats”, of two decorative pictures',
        objects: [
          { element: 'group', place: 'slide > group 2', alt: 'Two boats' },
          { element: 'picture', partOf: 'slide > group 2', isDecorative: true },
          { element: 'picture', partOf: 'slide > group 2', isDecorative: true },
        ],
      },
      {
        html: 'group, alt text “Two boats”, of two pictures without alt text: the group says it for them',
        objects: [
          { element: 'group', place: 'slide > group 2', alt: 'Two boats' },
          { element: 'picture', partOf: 'slide > group 2' },
          { element: 'picture', partOf: 'slide > group 2' },
        ],
      },
      {
        html: 'group, decorative, of one picture without alt text',
        objects: [
          { element: 'group', place: 'slide > group 2', isDecorative: true },
          { element: 'picture', partOf: 'slide > group 2' },
        ],
      },
    ],
    fails: [
      {
        html: 'group, alt text “Two boats”, of two pictures, alt text “The ferry” and “The pilot boat”',
        objects: [
          { element: 'group', place: 'slide > group 2', alt: 'Two boats' },
          { element: 'picture', partOf: 'slide > group 2', alt: 'The ferry' },
          { element: 'picture', partOf: 'slide > group 2', alt: 'The pilot boat' },
        ],
        message: 'The group has alt text, and so have 2 of its parts: the same is heard twice.',
      },
      {
        html: 'group, no alt text, of two pictures, alt text “The ferry” and “The pilot boat”',
        objects: [
          { element: 'group', place: 'slide > group 2' },
          { element: 'picture', partOf: 'slide > group 2', alt: 'The ferry' },
          { element: 'picture', partOf: 'slide > group 2', alt: 'The pilot boat' },
        ],
        message: 'The group has no alt text, only its parts have: a screen reader stops at “group” first.',
      },
    ],
  },
  check(contexts) {
    return contexts.flatMap((context) => {
      const { element, state, accessible } = context.appearance;
      if (element !== 'group' || accessible.hidden !== null || state === 'decorative') return [];
      const parts = partsOf(context, contexts);
      const described = parts.filter((p) => p.appearance.state === 'described').length;
      if (described === 0) return [];
      // Where some parts are still without words, that is found at them.
      if (state === 'missing' && parts.some((p) => p.appearance.state === 'missing')) return [];
      const id = state === 'missing' ? 'group-words.parts' : 'group-words.both';
      return [{ context, finding: { outcome: 'cantTell' as const, message: { id, values: { parts: described } } } }];
    });
  },
});
