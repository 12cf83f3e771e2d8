import { z } from 'zod';
import { normalise } from '../words/graphemes';
import { notProse, type NotProse } from '../words/text-kind';
import { EVERY_FORMAT } from './support/formats';
import { defineRule } from './support/rule';
import { COMMON_PRACTICE } from './support/sources';
import { clipped, heardWords, listsOfText, trimmedSpan } from './support/words';

/** Words parted by spaces alone may be the name of one thing ("red ferry ticket office") up to here. */
const NAME = 3;

/** Bare tags between commas, or bare words in a row; null for everything that has a sentence's beginning or grammar. */
function bareWords(text: string, functionWords: ReadonlySet<string>): string[] | null {
  if (/[.:;!?()«»“”"/|]/.test(text)) return null;
  const parts = text.split(/\s*,\s*/).filter(Boolean);
  const words = text.toLowerCase().match(/[\p{L}\p{M}\p{N}’'-]+/gu) ?? [];
  if (words.some((w) => functionWords.has(w) || /^\p{N}+$/u.test(w))) return null;
  if (parts.length >= 3 && isTitle(parts)) return null;
  if (parts.length >= 3) return parts.every((p) => p.split(' ').length <= 2) ? parts : null;
  if (parts.length > 1) return null;
  // In lower case from the first letter on: nobody begins a description so.
  if (words.length <= NAME || /\p{Lu}|-/u.test(text)) return null;
  return words.some((w) => /(?:ing|ed|ly)$/.test(w)) ? null : words;
}

/** Ids of the messages that say what a text is made of instead of words. */
const NOT_PROSE: Record<NotProse, string> = {
  identifiers: 'word-list.identifiers',
  labels: 'word-list.labels',
  parameters: 'word-list.parameters',
};

/** “Selling Shares, Gain Combined, Gross Pricing”: capitals in the middle of parts are those of a heading. */
const isTitle = (parts: readonly string[]) =>
  parts.every((p) => /^\p{Lu}/u.test(p)) && parts.some((p) => /^\p{Lu}\S* \p{Lu}/u.test(p));

export default defineRule({
  id: 'word-list',
  title: 'Tags instead of a description',
  group: 'words',
  about:
    'The alt text is a row of separate words, “boat sea sky sunset”, or of names and values that a program gave it, “gamma=0.1, C=10”. Listeners hear tags and do not learn what the picture shows. Lists that say how things belong together are fine.',
  scope: 'appearance',
  gives: ['cantTell'],
  formats: EVERY_FORMAT,
  subsumes: ['boilerplate', 'overlong'],
  sources: [COMMON_PRACTICE],
  notForFormulas: true,
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<img src="a.jpg" alt="Apples, pears and plums on a stall">' },
      { html: '<img src="a.jpg" alt="Brannoch harbour map">' },
      { html: '<img src="a.jpg" alt="Two boats at sea, at sunset">' },
      { html: '<img src="a.jpg" alt="Ferry crossing the sound">' },
      { html: '<img src="a.jpg" alt="Selling Tickets, Fares Combined, Gross Prices">' },
    ],
    fails: [
      {
        html: '<img src="a.jpg" alt="boat sea sky sunset">',
        message: '“boat sea sky sunset” is 4 separate words, not a description.',
      },
      {
        html: '<img src="a.jpg" alt="puffin, bird, cliff, grass">',
        message: '“puffin, bird, cliff, grass” is 4 separate words, not a description.',
      },
      {
        html: '<img src="a.png" alt="gamma=10^-1, C=10^-2, gamma=10^0, C=10^-2">',
        message: '“gamma=10^-1, C=10^-2, gamma=10^0, C=10^-2” is a list of parameters, not a description.',
      },
      {
        html: '<img src="a.jpg" alt="Boot, Meer, Himmel">',
        lang: 'de',
        message: '“Boot, Meer, Himmel” is 3 separate words, not a description.',
      },
    ],
  },
  check(context) {
    const words = heardWords(context.appearance);
    if (words === null || context.purpose === 'functional') return null;
    const lists = listsOfText(words, context);
    // Of a language without lists, nobody can tell what joins words.
    if (!lists) return null;
    const text = normalise(words);
    const kind = notProse(text);
    if (kind)
      return {
        outcome: 'cantTell',
        message: { id: NOT_PROSE[kind], values: { text: clipped(text) } },
        span: trimmedSpan(words),
      };
    const bare = bareWords(text, lists.functionWords);
    if (!bare) return null;
    return {
      outcome: 'cantTell',
      message: { id: 'word-list.bare', values: { text: clipped(text), words: bare.length } },
      span: trimmedSpan(words),
    };
  },
});
