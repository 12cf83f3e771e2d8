import { z } from 'zod';
import { isSurely } from '../model/picture-analysis';
import { isTextPicture, recognisedWords } from '../purpose/propose';
import { normalise } from '../words/graphemes';
import { defineRule, type RuleContext } from './support/rule';
import { ACT_DECORATIVE, F38 } from './support/sources';
import { hasExtension, isDeviceName } from './support/file-names';
import { bare, count, heardWords, languageWords, quoted } from './support/words';

/** Pixels from which a picture is large: half a column of text (common practice). */
const LARGE = 120_000;

function sizeOf({ appearance: a, picture }: RuleContext): number {
  return a.layout.width && a.layout.height
    ? a.layout.width * a.layout.height
    : (picture?.width ?? 0) * (picture?.height ?? 0);
}

/** What the picture says on another page that could be said here too; on one page, once is enough. */
function wordedElsewhere(own: RuleContext, contexts: readonly RuleContext[]): string | null {
  for (const context of contexts) {
    if (context.page.path === own.page.path) continue;
    const words = context.purpose === 'functional' ? null : heardWords(context.appearance);
    if (words === null) continue;
    const text = normalise(words);
    const lists = languageWords(context);
    const empty = lists.some((l) => l.placeholders.has(bare(text)) || l.decoration.some((d) => d.test(bare(text))));
    if (!empty && !hasExtension(text) && !isDeviceName(text)) return text;
  }
  return null;
}

/** What speaks for a meaning, beginning with what weighs most. */
function evidenceFor(context: RuleContext, contexts: readonly RuleContext[]): string[] {
  const a = context.appearance;
  const large = sizeOf(context) >= LARGE;
  const seen = context.picture?.analysis;
  // Until somebody looked at it, its type is what there is to go by.
  const photo = seen?.kind
    ? isSurely(seen, 'photo')
    : context.picture?.type === 'image/jpeg' ||
      context.picture?.type === 'image/avif' ||
      context.picture?.type === 'image/webp';
  const worded = wordedElsewhere(context, contexts);
  const running =
    a.context.region !== 'header' &&
    a.context.region !== 'footer' &&
    a.context.region !== 'nav' &&
    (a.context.before !== '' || a.context.after !== '');
  return [
    ...(a.context.caption ? [`it has the caption ${quoted(a.context.caption, 40)}`] : []),
    ...(isTextPicture(seen) ? [`${count(recognisedWords(seen), 'word')} are written in it`] : []),
    ...(isSurely(seen, 'chart') && large ? ['it looks like a chart'] : []),
    ...(worded ? [`it says ${quoted(worded, 40)} elsewhere`] : []),
    ...(a.context.fillsFigure && !a.context.caption ? ['it is all that its figure holds'] : []),
    ...(large && photo && running && contexts.length === 1 ? ['it is a large photo, used once, in running text'] : []),
  ];
}

export default defineRule({
  id: 'empty-but-informative',
  title: 'Silent, but telling',
  group: 'purpose',
  about:
    'The alt text is empty, so nobody hears that there is a picture; yet there are signs that it tells something: it has a caption, the same picture has words elsewhere, it is all that a figure holds, something is written in it, it is a chart, or it is a large photo that stands once in running text.',
  scope: 'picture',
  sees: true,
  gives: ['cantTell'],
  sources: [F38, ACT_DECORATIVE],
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<img src="wave.svg" alt="">' },
      { html: '<figure><img src="a.jpg" alt="The ferry at the quay"><figcaption>Our ferry</figcaption></figure>' },
      { html: '<a href="/fares"><img src="a.svg" alt=""> Fares</a>' },
      {
        html: '<p>Text</p><img src="a.jpg" alt="">',
        pictures: { 'a.jpg': { width: 800, height: 600, analysis: { kind: 'pattern', sure: 0.8 } } },
      },
      { html: '<p>Text</p><img src="a.jpg" alt="">', pictures: { 'a.jpg': { width: 200, height: 150 } } },
    ],
    fails: [
      {
        html: '<p>Our sale begins.</p><img src="sale.png" alt="">',
        pictures: {
          'sale.png': { analysis: { kind: 'poster', sure: 0.9, text: 'Half price\nuntil Sunday', textShare: 0.3 } },
        },
        message: 'Silent, but 4 words are written in it.',
      },
      {
        html: '<figure><img src="a.jpg" alt=""><figcaption>The storm of 1953</figcaption></figure>',
        message: 'Silent, but it has the caption “The storm of 1953”.',
      },
      {
        html: ['<img src="a.jpg" alt="">', '<img src="a.jpg" alt="Two puffins">'],
        message: 'Silent, but it says “Two puffins” elsewhere.',
      },
      {
        html: '<main><p>In 1953 the storm took the quay.</p><img src="a.jpg" alt=""></main>',
        pictures: { 'a.jpg': { width: 800, height: 600 } },
        message: 'Silent, but it is a large photo, used once, in running text.',
      },
    ],
  },
  check(contexts) {
    return contexts.flatMap((context) => {
      const a = context.appearance;
      const silenced = a.element === 'img' && a.markup.alt === '' && a.state === 'decorative' && !a.accessible.hidden;
      // In a link or button it stands beside its text, or `unnamed-control` tells that nothing is said.
      if (!silenced || context.purposeSettled || a.context.control) return [];
      const evidence = evidenceFor(context, contexts);
      if (evidence.length === 0) return [];
      const worded = wordedElsewhere(context, contexts);
      return [
        {
          context,
          finding: {
            outcome: 'cantTell' as const,
            message: `Silent, but ${evidence.join(', and ')}.`,
            fixes: worded ? [{ kind: 'use words' as const, text: worded }] : [],
          },
        },
      ];
    });
  },
});
