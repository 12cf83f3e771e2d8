import { z } from 'zod';
import type { Picture } from '../model/picture';
import { FETCHED } from './support/formats';
import { defineRule } from './support/rule';
import type { RuleContext } from '../model/rule-context';
import { COMMON_PRACTICE } from './support/sources';

/** The largest that a picture is shown; null where some place does not tell. */
function largestShown(contexts: readonly RuleContext[], picture: Picture): { width: number; height: number } | null {
  let largest = { width: 0, height: 0 };
  for (const { appearance: a } of contexts) {
    if (a.accessible.hidden) continue;
    // A background or a poster is cut and stretched; one side alone may be cut too.
    if (a.element !== 'img' && a.element !== 'input') return null;
    if (!a.layout.width || a.markup.candidates.length > 0) return null;
    // Where only the width is set, the height follows.
    const height = a.layout.height ?? Math.round((a.layout.width * picture.height!) / picture.width!);
    if (a.layout.width * height > largest.width * largest.height) largest = { width: a.layout.width, height };
  }
  return largest.width > 0 ? largest : null;
}

export default defineRule({
  id: 'oversized',
  title: 'Larger than shown',
  group: 'files',
  about:
    'The file has far more pixels than it is ever shown with. Twice as many serve sharp screens; more only make readers wait. The shown size is known where the page gives it, or was opened in a browser.',
  scope: 'picture',
  gives: ['advice'],
  formats: FETCHED,
  sources: [COMMON_PRACTICE],
  parameters: z.object({
    /** How many times wider than shown a picture may be. */
    times: z
      .number()
      .min(1)
      .max(20)
      .default(2.5)
      .meta({ label: 'Times as wide as shown', lead: 'A picture may be', unit: 'times as wide as it is shown.' }),
  }),
  examples: {
    passes: [
      {
        html: '<img src="a.jpg" alt="The ferry" width="400" height="300">',
        pictures: { 'a.jpg': { width: 800, height: 600 } },
      },
      { html: '<img src="a.jpg" alt="The ferry">', pictures: { 'a.jpg': { width: 8000, height: 6000 } } },
      {
        html: '<img src="a.svg" alt="Logo" width="40" height="30">',
        pictures: { 'a.svg': { type: 'image/svg+xml', width: 400, height: 300 } },
      },
    ],
    fails: [
      {
        html: '<img src="a.jpg" alt="The ferry" width="400" height="300">',
        pictures: { 'a.jpg': { width: 4000, height: 3000 } },
        message: '4000 × 3000 pixels, shown at most at 400 × 300: 10 times as wide.',
      },
      {
        html: '<img src="a.jpg" alt="The ferry" width="100" height="75"><img src="a.jpg" alt="The ferry" width="200" height="150">',
        pictures: { 'a.jpg': { width: 900, height: 675 } },
        message: '900 × 675 pixels, shown at most at 200 × 150: 4.5 times as wide.',
      },
    ],
  },
  check(contexts, { times }) {
    const picture = contexts[0]!.picture;
    if (!picture?.width || !picture.height || picture.type === 'image/svg+xml') return [];
    const shown = largestShown(contexts, picture);
    if (!shown) return [];
    const ratio = Math.min(picture.width / shown.width, picture.height / shown.height);
    if (ratio <= times) return [];
    const figure = Math.round(ratio * 10) / 10;
    return [
      {
        context: contexts[0]!,
        finding: {
          outcome: 'advice' as const,
          message: {
            id: 'oversized.larger',
            values: {
              width: picture.width,
              height: picture.height,
              shownWidth: shown.width,
              shownHeight: shown.height,
              times: figure,
            },
          },
        },
      },
    ];
  },
});
