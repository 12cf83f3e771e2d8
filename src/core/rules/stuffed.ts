import { z } from 'zod';
import type { Message } from '../model/message';
import { wordsOf } from '../words/graphemes';
import { stemmerFor } from '../words/stemmer';
import { stuffingOf, type Contribution, type Stuffing } from '../words/stuffing';
import { echoOf } from './support/echoes';
import { EVERY_FORMAT } from './support/formats';
import { defineRule } from './support/rule';
import type { RuleContext } from '../model/rule-context';
import { COMMON_PRACTICE, SEARCH_GUIDANCE } from './support/sources';
import { heardWords, languageOf, listsOfText, quoted, trimmedSpan } from './support/words';

const contribution = ({ kind, figure, words }: Contribution): Message => ({
  id: `stuffed.${kind.replace(' ', '-')}`,
  values: { figure, words: words.slice(0, 3).map((w) => quoted(w, 24)) },
});

/** The score of what is heard at a spot; zero where nothing is. */
export function stuffingAt(context: RuleContext, keywords: readonly string[]): Stuffing {
  const words = heardWords(context.appearance);
  if (words === null) return { score: 0, contributions: [] };
  const language = languageOf(context);
  const stem = stemmerFor(language);
  const lists = listsOfText(words, context);
  const wanted = new Set(keywords.flatMap(wordsOf).map(stem));
  return stuffingOf(words, { lists, stem, keywords: wanted });
}

/** A title that stands beside the picture as it is, or the labels of a chart, may repeat words that sell nothing. */
function isHonest(context: RuleContext, contributions: readonly Contribution[]): boolean {
  const sells = contributions.some(({ kind }) => kind === 'selling words' || kind === 'target keywords');
  if (sells) return false;
  const words = heardWords(context.appearance)!;
  return context.purpose === 'complex' || echoOf(context.appearance, words, languageOf(context)) !== null;
}

export default defineRule({
  id: 'stuffed',
  title: 'Keyword stuffing',
  group: 'words',
  about:
    'The text repeats search terms instead of saying what the picture shows. That helps nobody who listens, and no search engine rewards it. The score from 0 to 1 adds up the signs: repeated words and phrases, parts that all say the same, missing grammar, sales words. A keyword that fits the picture, used once, is fine.',
  scope: 'appearance',
  gives: ['cantTell'],
  formats: EVERY_FORMAT,
  subsumes: ['boilerplate', 'word-list'],
  sources: [SEARCH_GUIDANCE, COMMON_PRACTICE],
  notForFormulas: true,
  parameters: z.object({
    /** Score from which a text is reported, from 0 to 1. */
    threshold: z
      .number()
      .min(0.1)
      .max(1)
      .default(0.5)
      .meta({ label: 'Score of keywords', lead: 'Count as keyword stuffing at', unit: 'or above' }),
    /** What this collection wants to be found by. */
    keywords: z.array(z.string().trim().min(1).max(80)).max(200).default([]).meta({
      label: 'Target keywords',
      help: 'One a line. The Desk shows whether they are used; used once, where they fit, is enough.',
    }),
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
          'Reads as keywords, score 0.92: “ferry”, “Skerry” used 7 times in all, 4 parts between commas that say the same, the same phrase again, once.',
      },
      {
        html: '<img src="a.jpg" alt="Günstige Fähre, Fähre buchen, Fähre Angebote, beste Fähre">',
        lang: 'de',
        message:
          'Reads as keywords, score 0.92: sales words, “Günstige”, “buchen”, “Angebote”, “Fähre” used 4 times in all, 4 parts between commas that say the same.',
      },
    ],
  },
  check(context, { threshold, keywords }) {
    const { score, contributions } = stuffingAt(context, keywords);
    if (score < threshold || isHonest(context, contributions)) return null;
    const spans = contributions.flatMap((c) => c.spans);
    const words = trimmedSpan(heardWords(context.appearance)!);
    return {
      outcome: 'cantTell',
      message: {
        id: 'stuffed.keywords',
        values: { score: Math.round(score * 100) / 100, reasons: contributions.slice(0, 3).map(contribution) },
      },
      span: {
        start: spans.reduce((least, s) => Math.min(least, s.start), spans.length > 0 ? Infinity : words.start),
        end: spans.reduce((most, s) => Math.max(most, s.end), spans.length > 0 ? 0 : words.end),
      },
    };
  },
});
