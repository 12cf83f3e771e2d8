import { z } from 'zod';
import { phraseWords } from '../words/phrases';
import { EVERY_FORMAT } from './support/formats';
import { defineRule } from './support/rule';
import { COMMON_PRACTICE, SEARCH_GUIDANCE } from './support/sources';
import { clipped, heardWords } from './support/words';

/** Where the first, or the last, of so many words stand in a text. */
function edge(text: string, words: number, at: 'start' | 'end'): { start: number; end: number } {
  const all = [...text.matchAll(/[\p{L}\p{M}\p{N}’'&@.-]+/gu)];
  const own = at === 'start' ? all.slice(0, words) : all.slice(-words);
  const last = own.at(-1)!;
  return { start: own[0]!.index, end: last.index + last[0].length };
}

export default defineRule({
  id: 'boilerplate',
  title: 'Boilerplate phrase',
  group: 'sets',
  about:
    'The same phrase opens or closes many of the texts, for example because a template adds the organisation’s name to each. Listeners hear it again and again and learn nothing from it.',
  scope: 'appearance',
  gives: ['advice'],
  formats: EVERY_FORMAT,
  sources: [SEARCH_GUIDANCE, COMMON_PRACTICE],
  notForFormulas: true,
  parameters: z.object({
    /** Of all different texts, from 0 to 1. */
    share: z.number().min(0.05).max(1).default(0.3).meta({
      label: 'Percent of all texts',
      lead: 'The same phrase is too much in',
      unit: '% of all texts,',
      scale: 0.01,
    }),
    /** Texts below which nothing is reported. */
    atLeast: z
      .int()
      .min(2)
      .max(10_000)
      .default(10)
      .meta({ label: 'Texts at least', lead: 'when these are at least', unit: 'texts.' }),
  }),
  examples: {
    passes: [
      { html: '<img src="a.jpg" alt="The ferry at the quay">' },
      {
        html: '<img src="a.jpg" alt="Skerry Sound Ferries">',
        phrases: [{ at: 'end', words: 'skerry sound ferries', texts: 40, of: 100 }],
      },
    ],
    fails: [
      {
        html: '<img src="a.jpg" alt="The quay | Skerry Sound Ferries">',
        phrases: [{ at: 'end', words: 'skerry sound ferries', texts: 40, of: 100 }],
        message: '“Skerry Sound Ferries” closes 40 of this collection’s 100 different texts.',
      },
      {
        html: '<img src="a.jpg" alt="Welcome aboard: the quay">',
        phrases: [{ at: 'start', words: 'welcome aboard', texts: 12, of: 20 }],
        message: '“Welcome aboard” opens 12 of this collection’s 20 different texts.',
      },
    ],
  },
  check({ appearance }, _, { phrases }) {
    const words = phrases.length > 0 ? heardWords(appearance) : null;
    if (words === null) return null;
    const own = phraseWords(words);
    for (const { at, words: phrase, texts, of } of phrases) {
      const parts = phrase.split(' ');
      const there = at === 'start' ? own.slice(0, parts.length) : own.slice(-parts.length);
      if (own.length <= parts.length || there.join(' ') !== phrase) continue;
      const span = edge(words, parts.length, at);
      const rest = at === 'start' ? words.slice(span.end) : words.slice(0, span.start);
      const better = rest.replace(/^[\s,.;:|–—-]+|[\s,;:|–—(-]+$/gu, '');
      return {
        outcome: 'advice',
        message: {
          id: at === 'start' ? 'boilerplate.opens' : 'boilerplate.closes',
          values: { phrase: clipped(words.slice(span.start, span.end)), texts, of },
        },
        span,
        fixes: /[\p{L}\p{N}]/u.test(better)
          ? [{ kind: 'use words', text: better.charAt(0).toLocaleUpperCase() + better.slice(1) }]
          : [],
      };
    }
    return null;
  },
});
