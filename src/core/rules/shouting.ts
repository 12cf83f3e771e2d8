import { z } from 'zod';
import { normalise } from '../words/graphemes';
import { EVERY_FORMAT } from './support/formats';
import { defineRule } from './support/rule';
import { type RuleFinding } from '../model/finding';
import { COMMON_PRACTICE, F72, H86 } from './support/sources';
import { clipped, heardWords, languageOf, trimmedSpan } from './support/words';

/** Acronyms are written so; longer words in capitals are not. */
const ACRONYM = 4;
/** Words in capitals from which it is not a name or a label. */
const MOST = 3;

/** In sentence case; words that the sentence does not begin with lose their capitals. */
function calmed(text: string, language: string | null): string {
  const lower = text.toLocaleLowerCase(language ?? undefined);
  return lower.replace(/^\P{L}*\p{L}/u, (first) => first.toLocaleUpperCase(language ?? undefined));
}

function shout(text: string, language: string | null): Pick<RuleFinding, 'message' | 'fixes'> | null {
  const words = text.match(/\p{L}[\p{L}\p{M}’'-]*/gu) ?? [];
  const capitals = words.filter((w) => w.length > 1 && w === w.toUpperCase() && w !== w.toLowerCase());
  const long = capitals.filter((w) => w.length > ACRONYM);
  if (capitals.length > MOST && long.length >= 2 && capitals.length >= words.length * 0.7) {
    return {
      message: { id: 'shouting.capitals', values: { capitals: capitals.length, words: words.length } },
      fixes: [{ kind: 'use words', text: calmed(text, language) }],
    };
  }
  const run = /[!?]{2,}|([*=~_#+<>^|•·★☆►◄»«-])\1{3,}|\.{4,}/.exec(text);
  if (run) return { message: { id: 'shouting.run', values: { text: clipped(run[0]) } } };
  const emoji = text.match(/\p{Extended_Pictographic}/gu)?.filter((c) => !/[©®™]/.test(c)) ?? [];
  if (emoji.length >= 3) return { message: { id: 'shouting.emoji', values: { n: emoji.length } } };
  const ornaments = text.match(/[★☆►◄▶◀■□●○◆◇♦♥✓✔✦✧]/gu) ?? [];
  if (ornaments.length >= 3) return { message: { id: 'shouting.ornaments', values: { n: ornaments.length } } };
  if (/(?<![\p{L}\p{N}])[:;=]-?[)(DP|](?:\s|$)/u.test(text) || /¯\\_|\(╯|<3(?:\s|$)/.test(text))
    return { message: { id: 'shouting.face' } };
  return null;
}

export default defineRule({
  id: 'shouting',
  title: 'Capitals and symbols',
  group: 'words',
  about:
    'The alt text is all in capitals, or contains rows of punctuation, ornaments, emoji or faces made of characters. Some screen readers spell out capitals and read the name of every symbol.',
  scope: 'appearance',
  gives: ['advice'],
  formats: EVERY_FORMAT,
  sources: [F72, H86, COMMON_PRACTICE],
  notForFormulas: true,
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<img src="a.jpg" alt="NASA and ESA staff at CERN">' },
      { html: '<img src="a.jpg" alt="SKERRY SOUND FERRIES">' },
      { html: '<img src="a.jpg" alt="Who is there?">' },
    ],
    fails: [
      {
        html: '<img src="a.jpg" alt="BOOK YOUR FERRY TICKET TODAY">',
        message: '5 words of 5 are in capitals; some screen readers spell them out.',
      },
      {
        html: '<img src="a.jpg" alt="Puffins are back!!!">',
        message: '“!!!” is read out character by character, or not at all.',
      },
      { html: '<img src="a.jpg" alt="New boat 🚢🎉🎉">', message: '3 emoji: a listener hears the name of each.' },
      {
        html: '<img src="a.jpg" alt="Happy crew :-)">',
        message: 'A face made of characters is read out one character at a time.',
      },
    ],
  },
  check(context) {
    const words = heardWords(context.appearance);
    if (words === null) return null;
    const found = shout(normalise(words), languageOf(context));
    return found && { outcome: 'advice', span: trimmedSpan(words), ...found };
  },
});
