import { z } from 'zod';
import { groupBy } from '../group-by';
import { normalise } from '../words/graphemes';
import { defineRule, type RuleFinding, type Spot } from './rule';
import { COMMON_PRACTICE, SC_1_1_1 } from './sources';
import { count, heardWords, quoted, trimmedSpan } from './words';

/** What tells two pictures apart: their content, or their address where that could not be read. */
const pictureKey = (spot: Spot) => spot.picture?.sha256 ?? spot.picture?.id ?? spot.appearance.src ?? spot.id;

/** Pictures that lead to the same place may say the same thing. */
const target = (spot: Spot) => spot.appearance.control?.href ?? null;

function firstOfEachPicture(spots: readonly Spot[]): Spot[] {
  const seen = new Map<string, Spot>();
  for (const spot of spots) if (!seen.has(pictureKey(spot))) seen.set(pictureKey(spot), spot);
  return [...seen.values()];
}

function sameTarget(spots: readonly Spot[]): boolean {
  const first = target(spots[0]!);
  return first !== null && spots.every((s) => target(s) === first);
}

/** How many more there are makes no difference. */
const MANY = 100;

function finding(spot: Spot, outcome: RuleFinding['outcome'], pictures: number, where: string): RuleFinding {
  const words = heardWords(spot.appearance)!;
  return {
    outcome,
    message: `${pictures > MANY ? `Over ${MANY} different pictures` : count(pictures, 'different picture')} ${where} say ${quoted(normalise(words))}.`,
    span: trimmedSpan(words),
  };
}

export default defineRule({
  id: 'same-words',
  title: 'Same words, different pictures',
  group: 'sets',
  about:
    'Different pictures with one and the same text. On one page a listener cannot tell them apart; across pages it is often a text that a template or a tool has put there.',
  scope: 'words',
  gives: ['cantTell', 'advice'],
  sources: [SC_1_1_1, COMMON_PRACTICE],
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<img src="a.jpg" alt="Two puffins"><img src="b.jpg" alt="A puffin landing">' },
      { html: '<img src="a.jpg" alt="Two puffins"><img src="a.jpg" alt="Two puffins">' },
      { html: '<a href="/"><img src="a.svg" alt="Front page"></a><a href="/"><img src="b.svg" alt="Front page"></a>' },
    ],
    fails: [
      {
        html: '<img src="a.jpg" alt="Puffin"><img src="b.jpg" alt="puffin.">',
        message: '2 different pictures on this page say “Puffin”.',
      },
      {
        html: ['<img src="a.jpg" alt="Puffin">', '<img src="b.jpg" alt="Puffin">'],
        message: '2 different pictures in this collection say “Puffin”.',
      },
    ],
  },
  check(spots) {
    const said = spots.filter((s) => heardWords(s.appearance) !== null);
    const out: { spot: Spot; finding: RuleFinding }[] = [];
    const told = new Set<string>();
    for (const onPage of groupBy(said, (s) => s.page.path).values()) {
      const pictures = firstOfEachPicture(onPage);
      if (pictures.length < 2 || sameTarget(pictures)) continue;
      for (const spot of pictures) {
        told.add(pictureKey(spot));
        out.push({ spot, finding: finding(spot, 'cantTell', pictures.length, 'on this page') });
      }
    }
    const everywhere = firstOfEachPicture(said);
    if (everywhere.length >= 2 && !sameTarget(everywhere))
      for (const spot of everywhere)
        if (!told.has(pictureKey(spot)))
          out.push({ spot, finding: finding(spot, 'advice', everywhere.length, 'in this collection') });
    return out;
  },
});
