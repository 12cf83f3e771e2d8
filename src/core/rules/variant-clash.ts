import { z } from 'zod';
import type { Picture } from '../model/appearance';
import { groupBy } from '../group-by';
import { sceneDifference } from '../picture/similarity';
import { normalise, wordsKey } from '../words/graphemes';
import { baseName } from './support/file-names';
import { defineRule, type RuleFinding, type Spot } from './support/rule';
import { COMMON_PRACTICE, SC_1_1_1 } from './support/sources';
import { heardWords, quoted } from './support/words';

/** Mean difference of colours from which two cuts are no cuts of one scene; measured in docs/pictures.md. */
const OTHER_SCENE = 26;

const contentOf = (picture: Picture | null) => picture?.seen?.family ?? picture?.sha256 ?? null;

/** Another picture that some screens are shown under the words of this one. */
function otherPicture(variant: Picture | null, img: Spot): RuleFinding | null {
  const [own, shown] = [variant?.seen?.fields, img.picture?.seen?.fields];
  if (!own || !shown || contentOf(variant) === contentOf(img.picture)) return null;
  const words = heardWords(img.appearance);
  if (words === null || sceneDifference(own, shown) < OTHER_SCENE) return null;
  return {
    outcome: 'cantTell',
    message: `Some screens are shown ${quoted(baseName(variant!.src ?? ''))} instead, which looks like another picture; both are heard as ${quoted(normalise(words))}.`,
  };
}

/** Class names by which pages show one of two, by the width of the screen (common practice). */
const BY_WIDTH =
  /[.-](?:mobile|desktop|phone|tablet|wide|narrow|portrait|landscape|(?:hidden|visible|hide|show)-[a-z]+|d-(?:none|block|(?:sm|md|lg|xl)-\w+))(?![a-z])/i;
const isForOneWidth = ({ appearance: a }: Spot) => BY_WIDTH.test(a.place);

/** Two places side by side, for two widths, that show one picture and say two things. */
function sameTwice(first: Spot, second: Spot): RuleFinding | null {
  const [a, b] = [heardWords(first.appearance), heardWords(second.appearance)];
  const content = contentOf(first.picture);
  if (!isForOneWidth(first) && !isForOneWidth(second)) return null;
  if (
    a === null ||
    b === null ||
    content === null ||
    content !== contentOf(second.picture) ||
    wordsKey(a) === wordsKey(b)
  )
    return null;
  if (first.appearance.control?.href !== second.appearance.control?.href) return null;
  return {
    outcome: 'cantTell',
    message: `The same picture stands beside it as ${quoted(normalise(a))}, and here it is ${quoted(normalise(b))}.`,
    mends: [{ kind: 'use words', text: normalise(a) }],
  };
}

export default defineRule({
  id: 'variant-clash',
  title: 'Another picture on other screens',
  group: 'sets',
  about:
    'A place may show one picture on wide screens and another on narrow ones, and has words for one only; where the two show different things, one of them is described wrongly. And one picture that stands there twice, for two widths, should say the same both times. That pictures differ is judged by their colours: look.',
  scope: 'page',
  sees: true,
  gives: ['cantTell'],
  sources: [SC_1_1_1, COMMON_PRACTICE],
  parameters: z.object({}),
  examples: {
    passes: [
      {
        html: '<picture><source srcset="narrow.jpg" media="(max-width: 600px)"><img src="wide.jpg" alt="The ferry"></picture>',
        pictures: {
          'narrow.jpg': { seen: { fields: '8080808080808080' } },
          'wide.jpg': { seen: { fields: '8080828080828080' } },
        },
      },
      { html: '<picture><source srcset="narrow.jpg"><img src="wide.jpg" alt="The ferry"></picture>' },
      {
        html: '<p><img class="wide" src="a.jpg" alt="The ferry"> <img class="narrow" src="a.jpg" alt="The ferry"></p>',
      },
      { html: '<p><img src="a.jpg" alt="The ferry"> <img src="a.jpg" alt="A ferry"></p>' },
    ],
    fails: [
      {
        html: '<picture><source srcset="narrow.jpg" media="(max-width: 600px)"><img src="wide.jpg" alt="The ferry"></picture>',
        pictures: {
          'narrow.jpg': { seen: { fields: 'f08080f08080' } },
          'wide.jpg': { seen: { fields: '406090406090' } },
        },
        message:
          'Some screens are shown “narrow.jpg” instead, which looks like another picture; both are heard as “The ferry”.',
      },
      {
        html: '<img src="wide.jpg" srcset="wide.jpg 1200w, narrow.jpg 400w" alt="The ferry">',
        pictures: {
          'narrow.jpg': { seen: { fields: 'f08080f08080' } },
          'wide.jpg': { seen: { fields: '406090406090' } },
        },
        message:
          'Some screens are shown “narrow.jpg” instead, which looks like another picture; both are heard as “The ferry”.',
      },
      {
        html: '<div><img class="desktop" src="a.jpg" alt="The ferry at the quay"> <img class="mobile" src="a.jpg" alt="Ferry"></div>',
        message: 'The same picture stands beside it as “The ferry at the quay”, and here it is “Ferry”.',
      },
    ],
  },
  check(spots) {
    const out: { spot: Spot; finding: RuleFinding }[] = [];
    const inOrder = [...spots].sort((a, b) => a.appearance.order - b.appearance.order);
    for (const img of inOrder.filter((s) => s.appearance.element === 'img')) {
      const finding = (img.variants ?? []).map((v) => otherPicture(v, img)).find((f) => f !== null);
      if (finding) out.push({ spot: img, finding });
    }
    const runs = groupBy(
      inOrder.filter((s) => s.appearance.run !== null && s.appearance.element === 'img'),
      (s) => s.appearance.run!,
    );
    for (const run of runs.values())
      for (const [i, spot] of run.entries()) {
        const finding = i > 0 ? sameTwice(run[i - 1]!, spot) : null;
        if (finding) out.push({ spot, finding });
      }
    return out;
  },
});
