import { z } from 'zod';
import type { Purpose } from '../model/appearance';
import type { Message } from '../model/message';
import { isSurely, type PictureAnalysis } from '../model/picture-analysis';
import { isProgram } from '../picture/program';
import { MARKUP } from './support/formats';
import { defineRule } from './support/rule';
import { ARIA15, G92, G95, SC_1_1_1 } from './support/sources';
import { takesLongDescription } from '../formats/html/refusals';
import { MANY_WORDS, recognisedWords } from '../purpose/propose';
import { lengthOf } from '../words/graphemes';

/** Whether what is written in a picture is there to be read: not in a photo, and no labels of a program's window. */
const isMeantToBeRead = (purpose: Purpose, seen: PictureAnalysis | null | undefined): boolean =>
  purpose === 'image of text' || (purpose === 'informative' && !isSurely(seen, 'photo') && !isProgram(seen));

export default defineRule({
  id: 'needs-long-description',
  title: 'Needs a long description',
  group: 'purpose',
  about:
    'A chart, a diagram, a map or a picture with many words in it holds more than a short text can say. Put the content on the page: below the picture, in a caption, in a part that opens, or on a page of its own with a link next to the picture.',
  scope: 'appearance',
  sees: true,
  gives: ['cantTell'],
  formats: MARKUP,
  sources: [SC_1_1_1, G92, G95, ARIA15],
  notForFormulas: true,
  parameters: z.object({
    /** Graphemes of a caption, or of the words themselves, from which they may say it all. */
    caption: z.int().min(0).max(2000).default(120).meta({
      label: 'Characters that say it all',
      lead: 'A chart or a map needs no more where its words or caption have',
      unit: 'characters.',
    }),
    /** Recognised words from which a short text cannot say it all. */
    words: z.int().min(1).max(1000).default(MANY_WORDS).meta({
      label: 'Words written in a picture',
      lead: 'A picture of text needs a long description with more than',
      unit: 'words written in it.',
    }),
  }),
  examples: {
    passes: [
      {
        html: '<img src="a.svg" alt="Tides in June" aria-describedby="t"><p id="t">High at 7, low at 13.</p>',
        purpose: 'complex',
      },
      {
        html: '<img src="a.svg" alt="Tides in June"><details><summary>As text</summary>High at 7.</details>',
        purpose: 'complex',
      },
      {
        html: '<img src="a.svg" alt="Tides in June">',
        purpose: 'complex',
        pictures: { 'a.svg': { hasLongDescription: true } },
      },
      {
        html: '<figure><img src="a-small.svg" alt="Tides in June"><figcaption><a href="tides">Tides</a></figcaption></figure>',
        purpose: 'complex',
        isThumbnail: true,
      },
      { html: '<img src="a.jpg" alt="The ferry">' },
    ],
    fails: [
      {
        html: '<img src="t.png" alt="Winter sailings">',
        pictures: {
          't.png': {
            analysis: {
              kind: 'poster',
              sure: 0.9,
              textShare: 0.3,
              text: 'a b c d e f g h i j k l m n o p q r s t u v w x y z',
            },
          },
        },
        message: 'It contains 26 words of text, and no long description is attached.',
      },
      {
        html: '<img src="a.svg" alt="Tides in June">',
        purpose: 'complex',
        message: 'It is complex, and no long description is attached.',
      },
      {
        html: '<img src="a.svg" alt="{{ name }}, tides in June">',
        purpose: 'complex',
        pictures: { 'a.svg': { hasLongDescription: true } },
        message:
          'It is complex, and no long description is attached. One is written, and Detto cannot put it into this page.',
      },
      {
        html: '<figure><img src="a.svg" alt="Tides in June"><figcaption>Tides</figcaption></figure>',
        purpose: 'complex',
        message: 'It is complex, and all there is beside it is a caption of 5 characters.',
      },
    ],
  },
  check({ appearance: a, purpose, picture, isThumbnail }, { caption, words }) {
    // What the large one holds is described where that stands.
    if (isThumbnail) return null;
    const written = recognisedWords(picture?.analysis);
    const much = written > words && isMeantToBeRead(purpose, picture?.analysis);
    if (
      (purpose !== 'complex' && !much) ||
      a.accessible.hidden ||
      a.state === 'decorative' ||
      lengthOf(a.accessible.name) >= caption
    )
      return null;
    if (a.accessible.descriptions.some((d) => d.leads === 'to text' || d.leads === 'elsewhere')) return null;
    if (picture?.hasLongDescription && takesLongDescription(a)) return null;
    const length = lengthOf(a.context.caption ?? '');
    if (length >= caption) return null;
    const message: Message = {
      id: purpose === 'complex' ? 'needs-long-description.complex' : 'needs-long-description.text',
      values: { words: written, caption: length },
    };
    return {
      outcome: 'cantTell',
      message: picture?.hasLongDescription ? { id: 'needs-long-description.refused', values: { message } } : message,
    };
  },
});
