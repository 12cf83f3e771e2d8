import { z } from 'zod';
import type { Picture } from '../model/picture';
import { groupBy } from '../group-by';
import { sceneDifference } from '../picture/similarity';
import { normalise, wordsKey } from '../words/graphemes';
import { fileNameOf } from '../picture/file-name';
import { FETCHED } from './support/formats';
import { defineRule } from './support/rule';
import type { RuleContext } from '../model/rule-context';
import { type RuleFinding } from '../model/finding';
import { COMMON_PRACTICE, SC_1_1_1 } from './support/sources';
import { clipped, heardWords } from './support/words';

/** Mean difference of colours from which two cuts are no cuts of one scene; measured in docs/pictures.md. */
const OTHER_SCENE = 26;

const contentOf = (picture: Picture | null) => picture?.analysis?.duplicateGroup ?? picture?.sha256 ?? null;

/** Another picture that some screens are shown under the words of this one. */
function otherPicture(variant: Picture | null, img: RuleContext): RuleFinding | null {
  const [own, shown] = [variant?.analysis?.fields, img.picture?.analysis?.fields];
  if (!own || !shown || contentOf(variant) === contentOf(img.picture)) return null;
  const words = heardWords(img.appearance);
  if (words === null || sceneDifference(own, shown) < OTHER_SCENE) return null;
  return {
    outcome: 'cantTell',
    message: {
      id: 'variant-clash.other-picture',
      values: { file: clipped(fileNameOf(variant!.src ?? '')), text: clipped(normalise(words)) },
    },
  };
}

/** Class names by which pages show one of two, by the width of the screen (common practice). */
const BY_WIDTH =
  /[.-](?:mobile|desktop|phone|tablet|wide|narrow|portrait|landscape|(?:hidden|visible|hide|show)-[a-z]+|d-(?:none|block|(?:sm|md|lg|xl)-\w+))(?![a-z])/i;
const isForOneWidth = ({ appearance: a }: RuleContext) => BY_WIDTH.test(a.context.place);

/** Two places side by side, for two widths, that show one picture and say two things. */
function sameTwice(first: RuleContext, second: RuleContext): RuleFinding | null {
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
  if (first.appearance.context.control?.href !== second.appearance.context.control?.href) return null;
  return {
    outcome: 'cantTell',
    message: {
      id: 'variant-clash.same-picture',
      values: { other: clipped(normalise(a)), text: clipped(normalise(b)) },
    },
    fixes: [{ kind: 'use words', text: normalise(a) }],
  };
}

export default defineRule({
  id: 'variant-clash',
  title: 'Different picture on other screens',
  group: 'sets',
  about:
    'One place can show different pictures on wide and narrow screens, but has only one alt text; where the pictures show different things, one of them is described wrongly. And a picture that stands there twice, once for each width, should have the same text both times. The comparison goes by colours, so check it.',
  scope: 'page',
  sees: true,
  gives: ['cantTell'],
  formats: FETCHED,
  sources: [SC_1_1_1, COMMON_PRACTICE],
  parameters: z.object({}),
  examples: {
    passes: [
      {
        html: '<picture><source srcset="narrow.jpg" media="(max-width: 600px)"><img src="wide.jpg" alt="The ferry"></picture>',
        pictures: {
          'narrow.jpg': { analysis: { fields: '8080808080808080' } },
          'wide.jpg': { analysis: { fields: '8080828080828080' } },
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
          'narrow.jpg': { analysis: { fields: 'f08080f08080' } },
          'wide.jpg': { analysis: { fields: '406090406090' } },
        },
        message:
          'Some screens show “narrow.jpg” instead, which looks like a different picture; both have the alt text “The ferry”.',
      },
      {
        html: '<img src="wide.jpg" srcset="wide.jpg 1200w, narrow.jpg 400w" alt="The ferry">',
        pictures: {
          'narrow.jpg': { analysis: { fields: 'f08080f08080' } },
          'wide.jpg': { analysis: { fields: '406090406090' } },
        },
        message:
          'Some screens show “narrow.jpg” instead, which looks like a different picture; both have the alt text “The ferry”.',
      },
      {
        html: '<div><img class="desktop" src="a.jpg" alt="The ferry at the quay"> <img class="mobile" src="a.jpg" alt="Ferry"></div>',
        message: 'The same picture next to it has the alt text “The ferry at the quay”, and this one “Ferry”.',
      },
    ],
  },
  check(contexts) {
    const out: { context: RuleContext; finding: RuleFinding }[] = [];
    const inOrder = [...contexts].sort((a, b) => a.appearance.order - b.appearance.order);
    for (const img of inOrder.filter((s) => s.appearance.element === 'img')) {
      const finding = (img.variants ?? []).map((v) => otherPicture(v, img)).find((f) => f !== null);
      if (finding) out.push({ context: img, finding });
    }
    const runs = groupBy(
      inOrder.filter((s) => s.appearance.context.run !== null && s.appearance.element === 'img'),
      (s) => s.appearance.context.run!,
    );
    for (const run of runs.values())
      for (const [i, context] of run.entries()) {
        const finding = i > 0 ? sameTwice(run[i - 1]!, context) : null;
        if (finding) out.push({ context, finding });
      }
    return out;
  },
});
