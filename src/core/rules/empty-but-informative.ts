import { z } from 'zod';
import { isSurely } from '../model/picture-analysis';
import { isTextPicture, wordsInside } from '../purpose/propose';
import { normalise } from '../words/graphemes';
import { defineRule, type Spot } from './support/rule';
import { ACT_DECORATIVE, F38 } from './support/sources';
import { hasExtension, isDeviceName } from './support/file-names';
import { bare, count, heardWords, languageWords, quoted } from './support/words';

/** Pixels from which a picture is large: half a column of text (common practice). */
const LARGE = 120_000;

function sizeOf({ appearance: a, picture }: Spot): number {
  return a.shownWidth && a.shownHeight ? a.shownWidth * a.shownHeight : (picture?.width ?? 0) * (picture?.height ?? 0);
}

/** What the picture says on another page that could be said here too; on one page, once is enough. */
function wordedElsewhere(own: Spot, spots: readonly Spot[]): string | null {
  for (const spot of spots) {
    if (spot.page.path === own.page.path) continue;
    const words = spot.purpose === 'functional' ? null : heardWords(spot.appearance);
    if (words === null) continue;
    const text = normalise(words);
    const lists = languageWords(spot);
    const empty = lists.some((l) => l.placeholders.has(bare(text)) || l.decoration.some((d) => d.test(bare(text))));
    if (!empty && !hasExtension(text) && !isDeviceName(text)) return text;
  }
  return null;
}

/** What speaks for a meaning, beginning with what weighs most. */
function evidenceFor(spot: Spot, spots: readonly Spot[]): string[] {
  const a = spot.appearance;
  const large = sizeOf(spot) >= LARGE;
  const seen = spot.picture?.seen;
  // Until somebody looked at it, its type is what there is to go by.
  const photo = seen?.kind
    ? isSurely(seen, 'photo')
    : spot.picture?.type === 'image/jpeg' || spot.picture?.type === 'image/avif' || spot.picture?.type === 'image/webp';
  const worded = wordedElsewhere(spot, spots);
  const running =
    a.region !== 'header' && a.region !== 'footer' && a.region !== 'nav' && (a.before !== '' || a.after !== '');
  return [
    ...(a.caption ? [`it has the caption ${quoted(a.caption, 40)}`] : []),
    ...(isTextPicture(seen) ? [`${count(wordsInside(seen), 'word')} are written in it`] : []),
    ...(isSurely(seen, 'chart') && large ? ['it looks like a chart'] : []),
    ...(worded ? [`it says ${quoted(worded, 40)} elsewhere`] : []),
    ...(a.fillsFigure && !a.caption ? ['it is all that its figure holds'] : []),
    ...(large && photo && running && spots.length === 1 ? ['it is a large photo, used once, in running text'] : []),
  ];
}

export default defineRule({
  id: 'silent-but-telling',
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
        pictures: { 'a.jpg': { width: 800, height: 600, seen: { kind: 'pattern', sure: 0.8 } } },
      },
      { html: '<p>Text</p><img src="a.jpg" alt="">', pictures: { 'a.jpg': { width: 200, height: 150 } } },
    ],
    fails: [
      {
        html: '<p>Our sale begins.</p><img src="sale.png" alt="">',
        pictures: {
          'sale.png': { seen: { kind: 'poster', sure: 0.9, text: 'Half price\nuntil Sunday', textShare: 0.3 } },
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
  check(spots) {
    return spots.flatMap((spot) => {
      const a = spot.appearance;
      const silenced = a.element === 'img' && a.alt === '' && a.state === 'silent' && !a.hidden;
      // In a link or button it stands beside its text, or `unnamed-control` tells that nothing is said.
      if (!silenced || spot.purposeSettled || a.control) return [];
      const evidence = evidenceFor(spot, spots);
      if (evidence.length === 0) return [];
      const worded = wordedElsewhere(spot, spots);
      return [
        {
          spot,
          finding: {
            outcome: 'cantTell' as const,
            message: `Silent, but ${evidence.join(', and ')}.`,
            mends: worded ? [{ kind: 'use words' as const, text: worded }] : [],
          },
        },
      ];
    });
  },
});
