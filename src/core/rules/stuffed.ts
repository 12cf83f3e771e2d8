import { z } from 'zod';
import { wordsOf } from '../words/graphemes';
import { stemmerFor } from '../words/stemmer';
import { stuffingOf, type Contribution, type Stuffing } from '../words/stuffing';
import { wordsOfLanguage } from './language/words';
import { defineRule, type RuleContext } from './support/rule';
import { COMMON_PRACTICE, SEARCH_GUIDANCE } from './support/sources';
import { heardWords, languageOf, quoted, trimmedSpan } from './support/words';

const TOLD: Record<Contribution['kind'], (c: Contribution) => string> = {
  'repeated words': (c) => `${list(c.words)} said ${c.figure} times in all`,
  'repeated phrases': (c) => `the same phrase again, ${c.figure === 1 ? 'once' : `${c.figure} times`}`,
  'shared heads': (c) => `${c.figure} parts between commas that say the same`,
  'no grammar': () => 'hardly a word that joins others',
  'selling words': (c) => `words that sell, ${list(c.words)}`,
  'target keywords': (c) => `${Math.round(100 * c.figure)} % of it target keywords`,
  length: (c) => `${c.figure} bare words in a row`,
};

const list = (words: readonly string[]) =>
  words
    .slice(0, 3)
    .map((w) => quoted(w, 24))
    .join(', ');

/** The score of what is heard at a spot; zero where nothing is. */
export function stuffingAt(context: RuleContext, keywords: readonly string[]): Stuffing {
  const words = heardWords(context.appearance);
  if (words === null) return { score: 0, contributions: [] };
  const language = languageOf(context);
  const stem = stemmerFor(language);
  const lists = wordsOfLanguage(language);
  const wanted = new Set(keywords.flatMap(wordsOf).map(stem));
  return stuffingOf(words, { lists, stem, keywords: wanted });
}

export default defineRule({
  id: 'stuffed',
  title: 'Keywords, not words',
  group: 'words',
  about:
    'The text repeats what somebody wants to be found by, instead of saying what is to be seen. It helps nobody who listens, and no search engine rewards it. The score from 0 to 1 adds up what speaks for it: repeated words and phrases, parts that all say the same, missing grammar, words that sell. A keyword that fits what is seen, once, is fine.',
  scope: 'appearance',
  gives: ['cantTell'],
  subsumes: ['boilerplate', 'word-list'],
  sources: [SEARCH_GUIDANCE, COMMON_PRACTICE],
  parameters: z.object({
    /** Score from which a text is reported, from 0 to 1. */
    threshold: z.number().min(0.1).max(1).default(0.5),
    /** What this collection wants to be found by. */
    keywords: z.array(z.string().trim().min(1).max(80)).max(200).default([]),
  }),
  examples: {
    passes: [
      { html: '<img src="a.jpg" alt="Apples, pears, plums, cherries and grapes on a market stall">' },
      { html: '<img src="a.jpg" alt="A red boat, a blue boat and a green boat tied up side by side">' },
      { html: '<img src="a.jpg" alt="The ferry leaves the quay">', parameters: { keywords: ['ferry'] } },
    ],
    fails: [
      {
        html: '<img src="a.jpg" alt="ferry Skerry, Skerry ferry tickets, cheap ferry Skerry, island ferry">',
        message:
          'Reads as keywords, score 0.92: “ferry”, “Skerry” said 7 times in all, 4 parts between commas that say the same, the same phrase again, once.',
      },
      {
        html: '<img src="a.jpg" alt="Günstige Fähre, Fähre buchen, Fähre Angebote, beste Fähre">',
        lang: 'de',
        message:
          'Reads as keywords, score 0.92: words that sell, “Günstige”, “buchen”, “Angebote”, “Fähre” said 4 times in all, 4 parts between commas that say the same.',
      },
    ],
  },
  check(context, { threshold, keywords }) {
    const { score, contributions } = stuffingAt(context, keywords);
    if (score < threshold) return null;
    const why = contributions.slice(0, 3).map((c) => TOLD[c.kind](c));
    const spans = contributions.flatMap((c) => c.spans);
    const words = trimmedSpan(heardWords(context.appearance)!);
    return {
      outcome: 'cantTell',
      message: `Reads as keywords, score ${score.toFixed(2)}: ${why.join(', ')}.`,
      span: {
        start: spans.reduce((least, s) => Math.min(least, s.start), spans.length > 0 ? Infinity : words.start),
        end: spans.reduce((most, s) => Math.max(most, s.end), spans.length > 0 ? 0 : words.end),
      },
    };
  },
});
