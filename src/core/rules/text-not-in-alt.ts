import { z } from 'zod';
import { isTextPicture, MANY_WORDS, recognisedWords } from '../purpose/propose';
import { normalise } from '../words/graphemes';
import { saidWords } from '../words/said';
import { EVERY_FORMAT } from './support/formats';
import { defineRule } from './support/rule';
import type { RuleContext } from '../model/rule-context';
import { type Fix } from '../model/finding';
import { SC_1_1_1, SC_1_4_5, TUTORIAL_TEXT, WCAG2ICT } from './support/sources';
import { heardWords, languageOf, languageWords, quoted } from './support/words';

/** Words named in the message. */
const NAMED = 6;
/** Graphemes up to which the text itself can be the words. */
const SHORT = 150;

/** Letters and digits of a word, for comparison: `07:15` stays one word. */
const key = (word: string) =>
  word
    .toLowerCase()
    .normalize('NFKD')
    .replace(/[^\p{L}\p{N}]/gu, '');
const written = (text: string) =>
  text.split(/[\s/|·–—]+/).map((w) => w.replace(/^[^\p{L}\p{N}£$€]+|[^\p{L}\p{N}%]+$/gu, ''));

/** What is written in the picture, each word once, without the small ones. */
function ownWords(context: RuleContext, text: string): string[] {
  const lists = languageWords(context);
  const all = written(text).filter(
    (w) => key(w).length > 1 && !lists.some((l) => l.functionWords.has(w.toLowerCase())),
  );
  return [...new Map(all.map((w) => [key(w), w])).values()];
}

/** Everything that a listener hears here, or reads beside it. */
function nearby(context: RuleContext): Set<string> {
  const { appearance: a } = context;
  const said = [
    a.accessible.name,
    a.context.caption,
    a.context.before,
    a.context.after,
    a.context.heading,
    a.context.nextHeading,
    a.context.control?.name,
    a.context.headings.at(-1),
  ];
  const text = said.join(' ');
  return new Set([...written(text).map(key), ...saidWords(text, languageOf(context))]);
}

export default defineRule({
  id: 'text-not-in-alt',
  title: 'Text in the picture missing from the alt text',
  group: 'purpose',
  about:
    'The picture contains text that is neither in its alt text nor beside it. People who cannot see the picture miss it, and nobody can enlarge, copy or search it. The text was recognised by machine, so check it. Text in photos, screenshots, charts and maps is covered by other rules.',
  scope: 'appearance',
  sees: true,
  gives: ['cantTell'],
  formats: EVERY_FORMAT,
  documentSources: [WCAG2ICT],
  sources: [SC_1_1_1, SC_1_4_5, TUTORIAL_TEXT],
  notForFormulas: true,
  parameters: z.object({
    /** Share of its words that have to be missing, from 0 to 1. */
    missing: z.number().min(0.1).max(1).default(0.4).meta({
      label: 'Percent of its words',
      lead: 'Report text in a picture when',
      unit: '% of its words,',
      scale: 0.01,
    }),
    /** Words that have to be missing at least. */
    least: z
      .int()
      .min(1)
      .max(100)
      .default(2)
      .meta({ label: 'Words at least', lead: 'and at least', unit: 'of them, appear nowhere else.' }),
  }),
  examples: {
    passes: [
      {
        html: '<img src="w.png" alt="The settings of the survey">',
        pictures: {
          'w.png': {
            analysis: { kind: 'poster', sure: 0.4, text: 'File Edit View\nPages at most\nCancel OK', textShare: 0.2 },
          },
        },
      },
      {
        html: '<img src="sale.png" alt="Winter sale, half price until Sunday">',
        pictures: {
          'sale.png': {
            analysis: { kind: 'poster', sure: 0.9, text: 'WINTER SALE\nhalf price\nuntil Sunday', textShare: 0.3 },
          },
        },
      },
      {
        html: '<p>Winter sale: half price until Sunday.</p><img src="sale.png" alt="Our sale">',
        pictures: {
          'sale.png': {
            analysis: { kind: 'poster', sure: 0.9, text: 'WINTER SALE\nhalf price\nuntil Sunday', textShare: 0.3 },
          },
        },
      },
      {
        html: '<img src="ferry.jpg" alt="The ferry at the quay">',
        pictures: {
          'ferry.jpg': { analysis: { kind: 'photo', sure: 0.9, text: 'BRANNOCH BELLE LERWICK', textShare: 0.02 } },
        },
      },
      { html: '<img src="sale.png" alt="Winter sale">' },
      {
        html: '<a href="/sale"><img src="sale-small.png" alt="Winter sale"></a>',
        isThumbnail: true,
        pictures: {
          'sale-small.png': {
            analysis: { kind: 'poster', sure: 0.9, text: 'WINTER SALE\nhalf price\nuntil Sunday', textShare: 0.3 },
          },
        },
      },
    ],
    fails: [
      {
        html: '<img src="sale.png" alt="Sale banner">',
        pictures: {
          'sale.png': {
            analysis: { kind: 'poster', sure: 0.9, text: 'WINTER SALE\nhalf price\nuntil Sunday', textShare: 0.3 },
          },
        },
        message:
          '5 of the 6 words in the picture are missing from the alt text and the text beside it: “WINTER”, “half”, “price”, “until”, “Sunday”.',
      },
      {
        html: '<img src="t.png" alt="Timetable">',
        pictures: {
          't.png': { analysis: { kind: 'poster', sure: 0.4, text: 'Brannoch 07:15\nSkerry 07:55', textShare: 0.25 } },
        },
        message:
          '4 of the 4 words in the picture are missing from the alt text and the text beside it: “Brannoch”, “07:15”, “Skerry”, “07:55”.',
      },
    ],
  },
  check(context, { missing: leastShare, least }) {
    const { appearance: a, picture } = context;
    // What is written in a thumbnail is read where it stands large.
    if (context.isThumbnail) return null;
    const seen = picture?.analysis;
    if (!seen?.text || heardWords(a) === null || context.purpose === 'decorative') return null;
    const isText = (context.purposeSettled && context.purpose === 'image of text') || isTextPicture(seen);
    if (!isText) return null;
    const own = ownWords(context, seen.text);
    const near = nearby(context);
    const language = languageOf(context);
    const missing = own.filter((w) => !near.has(key(w)) && ![...saidWords(w, language)].every((s) => near.has(s)));
    if (missing.length < least || missing.length < own.length * leastShare) return null;
    const text = normalise(seen.text.replace(/\n/g, ' '));
    const fixes: Fix[] =
      text.length <= SHORT && recognisedWords(seen) <= MANY_WORDS && a.context.control?.text !== ''
        ? [{ kind: 'use words', text }]
        : [];
    return {
      outcome: 'cantTell',
      message: {
        id: missing.length > NAMED ? 'text-not-in-alt.more' : 'text-not-in-alt.missing',
        values: {
          missing: missing.length,
          of: own.length,
          words: missing.slice(0, NAMED).map((w) => quoted(w, 24)),
        },
      },
      fixes,
    };
  },
});
