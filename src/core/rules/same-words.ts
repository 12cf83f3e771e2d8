import { z } from 'zod';
import { groupBy } from '../group-by';
import { isSurely } from '../model/picture-analysis';
import { BEST_OF_SERIES } from '../purpose/order';
import { normalise } from '../words/graphemes';
import { isCallOut } from './support/call-out';
import { EVERY_FORMAT } from './support/formats';
import { defineRule } from './support/rule';
import type { RuleContext } from '../model/rule-context';
import { type RuleFinding } from '../model/finding';
import { COMMON_PRACTICE, SC_1_1_1 } from './support/sources';
import { clipped, heardWords, trimmedSpan } from './support/words';

/** What tells two pictures apart: what they show whatever they are encoded as, their content, or their address where that could not be read. */
const pictureKey = (context: RuleContext) =>
  context.picture?.analysis?.duplicateGroup?.toString() ??
  // One logo in two sizes is one thing.
  (isSurely(context.picture?.analysis, 'logo') ? context.picture!.analysis!.similarGroup?.toString() : undefined) ??
  context.picture?.sha256 ??
  context.picture?.id ??
  context.appearance.markup.src ??
  context.id;

/** Pictures that lead to the same place may say the same thing. */
const target = (context: RuleContext) => context.appearance.context.control?.href ?? null;

function firstOfEachPicture(contexts: readonly RuleContext[]): RuleContext[] {
  const seen = new Map<string, RuleContext>();
  for (const context of contexts) if (!seen.has(pictureKey(context))) seen.set(pictureKey(context), context);
  return [...seen.values()];
}

function sameTarget(contexts: readonly RuleContext[]): boolean {
  const first = target(contexts[0]!);
  return first !== null && contexts.every((s) => target(s) === first);
}

/** How many more there are makes no difference. */
const MANY = 100;

/** Whether all belong to one series of look-alikes. */
function inOneSeries(contexts: readonly RuleContext[]): boolean {
  const first = contexts[0]!.picture?.analysis?.similarGroup ?? null;
  return first !== null && contexts.every((s) => s.picture?.analysis?.similarGroup === first);
}

function finding(
  context: RuleContext,
  outcome: RuleFinding['outcome'],
  among: readonly RuleContext[],
  where: 'page' | 'collection',
): RuleFinding {
  const words = heardWords(context.appearance)!;
  const pictures = among.length;
  const values = { pictures, where, text: clipped(normalise(words)) };
  if (inOneSeries(among)) {
    return {
      outcome,
      message: {
        id: pictures > BEST_OF_SERIES ? 'same-words.series' : 'same-words.few-alike',
        values: { ...values, best: BEST_OF_SERIES },
      },
      span: trimmedSpan(words),
    };
  }
  return {
    outcome,
    message:
      pictures > MANY
        ? { id: 'same-words.over', values: { ...values, pictures: MANY } }
        : { id: 'same-words.different', values },
    span: trimmedSpan(words),
  };
}

export default defineRule({
  id: 'same-words',
  title: 'Different pictures, same alt text',
  group: 'sets',
  about:
    'Different pictures have exactly the same alt text. On one page, listeners cannot tell them apart; across pages, the text often comes from a template or a tool.',
  scope: 'words',
  sees: true,
  gives: ['cantTell', 'advice'],
  formats: EVERY_FORMAT,
  sources: [SC_1_1_1, COMMON_PRACTICE],
  notForFormulas: true,
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<img src="a.jpg" alt="Two puffins"><img src="b.jpg" alt="A puffin landing">' },
      { html: '<img src="a.jpg" alt="Two puffins"><img src="a.jpg" alt="Two puffins">' },
      {
        html: '<img src="a.jpg" alt="Puffin"><img src="b.webp" alt="Puffin">',
        pictures: {
          'a.jpg': { analysis: { duplicateGroup: 1, similarGroup: 1 } },
          'b.webp': { analysis: { duplicateGroup: 1, similarGroup: 1 } },
        },
      },
      { html: '<a href="/"><img src="a.svg" alt="Front page"></a><a href="/"><img src="b.svg" alt="Front page"></a>' },
    ],
    fails: [
      {
        html: '<img src="1.jpg" alt="Puffin"><img src="2.jpg" alt="Puffin"><img src="3.jpg" alt="Puffin"><img src="4.jpg" alt="Puffin"><img src="5.jpg" alt="Puffin"><img src="6.jpg" alt="Puffin">',
        pictures: Object.fromEntries([1, 2, 3, 4, 5, 6].map((n) => [`${n}.jpg`, { analysis: { similarGroup: 1 } }])),
        message:
          '6 pictures on this page look alike, and all have the alt text “Puffin”: describe the best 5 with care, and adapt the others from them.',
      },
      {
        html: '<img src="a.jpg" alt="Puffin"><img src="b.jpg" alt="puffin.">',
        message: '2 different pictures on this page have the alt text “Puffin”.',
      },
      {
        html: ['<img src="a.jpg" alt="Puffin">', '<img src="b.jpg" alt="Puffin">'],
        message: '2 different pictures in this collection have the alt text “Puffin”.',
      },
    ],
  },
  check(contexts) {
    const said = contexts.filter((s) => {
      const words = heardWords(s.appearance);
      return words !== null && !isCallOut(normalise(words), s);
    });
    const out: { context: RuleContext; finding: RuleFinding }[] = [];
    const reported = new Set<string>();
    for (const onPage of groupBy(said, (s) => s.page.path).values()) {
      const pictures = firstOfEachPicture(onPage);
      if (pictures.length < 2 || sameTarget(pictures)) continue;
      for (const context of pictures) {
        reported.add(pictureKey(context));
        out.push({ context, finding: finding(context, 'cantTell', pictures, 'page') });
      }
    }
    const everywhere = firstOfEachPicture(said);
    if (everywhere.length >= 2 && !sameTarget(everywhere))
      for (const context of everywhere)
        if (!reported.has(pictureKey(context)))
          out.push({ context, finding: finding(context, 'advice', everywhere, 'collection') });
    return out;
  },
});
