import { z } from 'zod';
import { groupBy } from '../group-by';
import { normalise, wordsKey } from '../words/graphemes';
import { MARKUP } from './support/formats';
import { defineRule } from './support/rule';
import type { RuleContext } from '../model/rule-context';
import { G196, TUTORIAL_GROUPS } from './support/sources';
import { heardWords, quoted } from './support/words';

/** Pixels of either side up to which a picture is a part of something: a star, a piece of a logo. */
const SMALL = 64;

function isSmall({ appearance: a, picture }: RuleContext): boolean {
  const width = a.layout.width ?? picture?.width ?? null;
  const height = a.layout.height ?? picture?.height ?? null;
  return width !== null && height !== null && width <= SMALL && height <= SMALL;
}

/** Each a control of its own, with its own target, is no group. */
const isOne = (contexts: readonly RuleContext[]) =>
  new Set(contexts.map((s) => s.appearance.context.control?.href ?? null)).size === 1;

export default defineRule({
  id: 'group-split',
  title: 'One group, several alt texts',
  group: 'sets',
  about:
    'Small pictures side by side that mean one thing together, such as the stars of a rating or a logo cut into pieces, each have alt text of their own. One of them should say it for all, “4 of 5 stars”, and the others have an empty alt.',
  scope: 'page',
  gives: ['cantTell'],
  formats: MARKUP,
  sources: [G196, TUTORIAL_GROUPS],
  notForFormulas: true,
  parameters: z.object({}),
  examples: {
    passes: [
      {
        html: '<p><img src="s.gif" alt="2 of 3 stars" width="16" height="16"><img src="s.gif" alt="" width="16" height="16"><img src="e.gif" alt="" width="16" height="16"></p>',
      },
      {
        html: '<p><img src="a.jpg" alt="Puffin" width="400" height="300"><img src="a.jpg" alt="Puffin" width="400" height="300"></p>',
      },
      {
        html: '<p><a href="/a"><img src="s.gif" alt="Mail" width="16" height="16"></a><a href="/b"><img src="t.gif" alt="Phone" width="16" height="16"></a></p>',
      },
    ],
    fails: [
      {
        html: '<p><img src="s.gif" alt="star" width="16" height="16"><img src="s.gif" alt="star" width="16" height="16"><img src="s.gif" alt="star" width="16" height="16"></p>',
        message: '3 small pictures side by side each have the alt text “star”: let one say it for all.',
      },
      {
        html: '<p><img src="s.gif" alt="full star" width="16" height="16"> <img src="s.gif" alt="full star" width="16" height="16"> <img src="e.gif" alt="empty star" width="16" height="16"></p>',
        message: '3 small pictures side by side have the alt texts “full star”, “empty star”: let one say it for all.',
      },
    ],
  },
  check(contexts) {
    const runs = groupBy(
      contexts.filter((s) => s.appearance.context.run !== null),
      (s) => s.appearance.context.run!,
    );
    return [...runs.values()].flatMap((run) => {
      const said = run.filter((s) => heardWords(s.appearance) !== null);
      if (said.length < 3 || said.length < run.length || !run.every(isSmall) || !isOne(run)) return [];
      const texts = new Map(
        said.map((s) => [wordsKey(heardWords(s.appearance)!), normalise(heardWords(s.appearance)!)]),
      );
      // What is distinguished in every member may be a row of things, each with its own words.
      if (texts.size > said.length / 2 + 0.5) return [];
      const parts = [...texts.values()].map((t) => quoted(t, 24));
      return [
        {
          context: said[0]!,
          finding: {
            outcome: 'cantTell' as const,
            message: {
              id: texts.size === 1 ? 'group-split.same' : 'group-split.parts',
              values: { pictures: said.length, texts: parts },
            },
          },
        },
      ];
    });
  },
});
