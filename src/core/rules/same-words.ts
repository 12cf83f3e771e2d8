import { z } from 'zod';
import { groupBy } from '../group-by';
import { BEST_OF_SERIES } from '../purpose/order';
import { normalise } from '../words/graphemes';
import { defineRule, type RuleFinding, type Spot } from './support/rule';
import { COMMON_PRACTICE, SC_1_1_1 } from './support/sources';
import { count, heardWords, quoted, trimmedSpan } from './support/words';

/** What tells two pictures apart: what they show whatever they are encoded as, their content, or their address where that could not be read. */
const pictureKey = (spot: Spot) =>
  spot.picture?.seen?.family?.toString() ?? spot.picture?.sha256 ?? spot.picture?.id ?? spot.appearance.src ?? spot.id;

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

/** Whether all belong to one series of look-alikes. */
function inOneSeries(spots: readonly Spot[]): boolean {
  const first = spots[0]!.picture?.seen?.series ?? null;
  return first !== null && spots.every((s) => s.picture?.seen?.series === first);
}

function finding(spot: Spot, outcome: RuleFinding['outcome'], among: readonly Spot[], where: string): RuleFinding {
  const words = heardWords(spot.appearance)!;
  const pictures = among.length;
  if (inOneSeries(among)) {
    const begin =
      pictures > BEST_OF_SERIES
        ? `word the best ${BEST_OF_SERIES} with care, and adapt the others from them`
        : 'say what differs';
    return {
      outcome,
      message: `${count(pictures, 'picture')} ${where} look alike and all say ${quoted(normalise(words))}: ${begin}.`,
      span: trimmedSpan(words),
    };
  }
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
  sees: true,
  gives: ['cantTell', 'advice'],
  sources: [SC_1_1_1, COMMON_PRACTICE],
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<img src="a.jpg" alt="Two puffins"><img src="b.jpg" alt="A puffin landing">' },
      { html: '<img src="a.jpg" alt="Two puffins"><img src="a.jpg" alt="Two puffins">' },
      {
        html: '<img src="a.jpg" alt="Puffin"><img src="b.webp" alt="Puffin">',
        pictures: { 'a.jpg': { seen: { family: 1, series: 1 } }, 'b.webp': { seen: { family: 1, series: 1 } } },
      },
      { html: '<a href="/"><img src="a.svg" alt="Front page"></a><a href="/"><img src="b.svg" alt="Front page"></a>' },
    ],
    fails: [
      {
        html: '<img src="1.jpg" alt="Puffin"><img src="2.jpg" alt="Puffin"><img src="3.jpg" alt="Puffin"><img src="4.jpg" alt="Puffin"><img src="5.jpg" alt="Puffin"><img src="6.jpg" alt="Puffin">',
        pictures: Object.fromEntries([1, 2, 3, 4, 5, 6].map((n) => [`${n}.jpg`, { seen: { series: 1 } }])),
        message:
          '6 pictures on this page look alike and all say “Puffin”: word the best 5 with care, and adapt the others from them.',
      },
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
        out.push({ spot, finding: finding(spot, 'cantTell', pictures, 'on this page') });
      }
    }
    const everywhere = firstOfEachPicture(said);
    if (everywhere.length >= 2 && !sameTarget(everywhere))
      for (const spot of everywhere)
        if (!told.has(pictureKey(spot)))
          out.push({ spot, finding: finding(spot, 'advice', everywhere, 'in this collection') });
    return out;
  },
});
