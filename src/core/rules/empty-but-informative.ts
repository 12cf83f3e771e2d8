import { z } from 'zod';
import { allOf, type Message } from '../model/message';
import { isSurely } from '../model/picture-analysis';
import { isShown, isTextPicture, recognisedWords } from '../purpose/propose';
import { normalise } from '../words/graphemes';
import { bare, saidWords } from '../words/said';
import { echoOf } from './support/echoes';
import { isDocumentObject } from '../model/appearance';
import { EVERY_FORMAT } from './support/formats';
import { defineRule } from './support/rule';
import type { RuleContext } from '../model/rule-context';
import { ACT_DECORATIVE, F38, WCAG2ICT } from './support/sources';
import { hasExtension, isDeviceName } from './support/file-names';
import { clipped, heardWords, languageOf, languageWords } from './support/words';

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

/** Share of the words in a picture that stand beside it already. */
const MOSTLY = 0.8;

/** Whether what is written in the picture stands beside it, too. */
function isSaidBeside(context: RuleContext): boolean {
  const { context: c } = context.appearance;
  const language = languageOf(context);
  const own = [...saidWords(context.picture?.analysis?.text ?? '', language)];
  const beside = saidWords([c.before, c.after, c.caption, c.headings.at(-1), c.nextHeading].join(' '), language);
  return own.length > 0 && own.filter((w) => beside.has(w)).length >= MOSTLY * own.length;
}

/** What speaks for a meaning, beginning with what weighs most. */
function evidenceFor(context: RuleContext, contexts: readonly RuleContext[]): Message[] {
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
  const evidence = [
    ...(a.context.caption
      ? [{ id: 'empty-but-informative.caption', values: { caption: clipped(a.context.caption, 40) } }]
      : []),
    ...(isTextPicture(seen) && !isSaidBeside(context)
      ? [{ id: 'empty-but-informative.text', values: { words: recognisedWords(seen) } }]
      : []),
    ...(isSurely(seen, 'chart') && large ? [{ id: 'empty-but-informative.chart' }] : []),
    ...(worded && !echoOf(a, worded, languageOf(context))
      ? [{ id: 'empty-but-informative.elsewhere', values: { text: clipped(worded, 40) } }]
      : []),
    ...(a.context.fillsFigure && !a.context.caption ? [{ id: 'empty-but-informative.figure' }] : []),
    ...(large && photo && running && contexts.length === 1 ? [{ id: 'empty-but-informative.photo' }] : []),
  ];
  // By itself it says less than any of these.
  const isOnly = a.context.isAlone && contexts.length === 1 && isShown(a, context.picture);
  return evidence.length === 0 && isOnly ? [{ id: 'empty-but-informative.alone' }] : evidence;
}

export default defineRule({
  id: 'empty-but-informative',
  title: 'Empty alt on an informative image',
  group: 'purpose',
  about:
    'The alt is empty, so nobody who listens knows that there is a picture. Yet it seems to carry information: it has a caption, has alt text elsewhere, is all that a figure contains, contains text, is a chart, or is a large photo used once in running text.',
  scope: 'picture',
  sees: true,
  gives: ['cantTell'],
  formats: EVERY_FORMAT,
  documentSources: [WCAG2ICT],
  sources: [F38, ACT_DECORATIVE],
  notForFormulas: true,
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
        message: 'The alt is empty, but it contains 4 words of text.',
      },
      {
        html: '<figure><img src="a.jpg" alt=""><figcaption>The storm of 1953</figcaption></figure>',
        message: 'The alt is empty, but it has the caption “The storm of 1953”.',
      },
      {
        html: ['<img src="a.jpg" alt="">', '<img src="a.jpg" alt="Two puffins">'],
        message: 'The alt is empty, but elsewhere its alt text is “Two puffins”.',
      },
      {
        html: '<p>The pen draws its caps like this:</p><p><img src="caps.png" alt=""></p>',
        pictures: { 'caps.png': { width: 180, height: 120, analysis: { kind: 'drawing', sure: 0.7 } } },
        message: 'The alt is empty, but it is all that its paragraph contains, and used once.',
      },
      {
        html: '<main><p>In 1953 the storm took the quay.</p><img src="a.jpg" alt=""></main>',
        pictures: { 'a.jpg': { width: 800, height: 600 } },
        message: 'The alt is empty, but it is a large photo, used once, in running text.',
      },
    ],
  },
  check(contexts) {
    return contexts.flatMap((context) => {
      const a = context.appearance;
      // What a PDF has made an artifact cannot be given words.
      const takes =
        a.element === 'img' || (isDocumentObject(a) && a.element !== 'background' && context.page.format !== 'pdf');
      const silenced = takes && a.markup.alt === '' && a.state === 'decorative' && !a.accessible.hidden;
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
            message: {
              id: isDocumentObject(a) ? 'empty-but-informative.marked' : 'empty-but-informative.empty',
              values: { evidence: allOf(evidence) },
            },
            fixes: worded ? [{ kind: 'use words' as const, text: worded }] : [],
          },
        },
      ];
    });
  },
});
