import { z } from 'zod';
import type { AppearanceElement } from '../model/appearance';
import { OFFICE } from './support/formats';
import { defineRule } from './support/rule';
import type { RuleContext } from '../model/rule-context';
import { SC_1_1_1, WCAG2ICT } from './support/sources';

const OBJECTS: readonly AppearanceElement[] = ['chart', 'diagram', 'group'];
/** What can be a part of a group and says something by its looks. */
const SHOWS: readonly AppearanceElement[] = [...OBJECTS, 'picture', 'media', 'embedded'];

const isMissing = ({ appearance: { state, accessible } }: RuleContext) =>
  state === 'missing' && accessible.hidden === null;

/** The parts of a group that show something. */
export const partsOf = (group: RuleContext, contexts: readonly RuleContext[]): RuleContext[] =>
  contexts.filter(
    (c) => c.appearance.context.partOf === group.appearance.context.place && SHOWS.includes(c.appearance.element),
  );

export default defineRule({
  id: 'object-unnamed',
  title: 'Chart, diagram or group without alt text',
  group: 'presence',
  about:
    'A chart, a diagram or a group of shapes is one thing to somebody who sees it. Without alt text a screen reader says only “chart” or “group”, or reads its parts one by one without saying what they show together. Say in one text what it tells.',
  scope: 'page',
  gives: ['failed'],
  formats: OFFICE,
  sources: [SC_1_1_1, WCAG2ICT],
  parameters: z.object({}),
  examples: {
    passes: [
      {
        html: 'chart “Fares”, alt text “Fares rise with the distance, from 3.50 to 8.00”',
        objects: [{ element: 'chart', alt: 'Fares rise with the distance, from 3.50 to 8.00' }],
      },
      { html: 'chart “Backdrop”, decorative', objects: [{ element: 'chart', isDecorative: true }] },
      {
        html: 'group, alt text “Three puffins at their burrow”, of three pictures without alt text',
        objects: [
          { element: 'group', place: 'slide > group 2', alt: 'Three puffins at their burrow' },
          { element: 'picture', partOf: 'slide > group 2' },
          { element: 'picture', partOf: 'slide > group 2' },
        ],
      },
    ],
    fails: [
      {
        html: 'chart, no alt text',
        objects: [{ element: 'chart' }],
        message: 'This chart has no alt text: a screen reader says “chart”, and not what it shows.',
      },
      {
        html: 'group of two pictures, none with alt text',
        objects: [
          { element: 'group', place: 'slide > group 2' },
          { element: 'picture', partOf: 'slide > group 2' },
          { element: 'picture', partOf: 'slide > group 2' },
        ],
        message:
          'This group has no alt text, and nor have its parts: a screen reader says “group”, and not what it shows.',
      },
    ],
  },
  check(contexts) {
    const groups = new Map(contexts.map((c) => [c.appearance.context.place, c]));
    return contexts.filter(isMissing).flatMap((context) => {
      const { element, context: at } = context.appearance;
      const around = at.partOf ? groups.get(at.partOf) : undefined;
      const failed = (id: string) => [
        { context, finding: { outcome: 'failed' as const, message: { id: `object-unnamed.${id}` } } },
      ];
      // One text for the group says it for its parts.
      if (around && around.appearance.state !== 'missing') return [];
      if (around && SHOWS.includes(element)) {
        const siblings = partsOf(around, contexts);
        return siblings.some((s) => s.appearance.state === 'described') ? failed('part') : [];
      }
      if (!OBJECTS.includes(element)) return [];
      if (element !== 'group') return failed(element);
      const parts = partsOf(context, contexts);
      return parts.some((p) => p.appearance.state === 'described') ? [] : failed(parts.length > 0 ? 'group' : 'shapes');
    });
  },
});
