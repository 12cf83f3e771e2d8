import { z } from 'zod';
import { languageName } from '../model/message';
import { normalise } from '../words/graphemes';
import { notProse } from '../words/text-kind';
import { EVERY_FORMAT } from './support/formats';
import { defineRule, type Knowledge } from './support/rule';
import { SC_3_1_2, WCAG2ICT } from './support/sources';
import { clipped, heardWords, statedLanguage, trimmedSpan } from './support/words';

/** Scripts that belong to few languages each: a text in one of them is not in any other. */
const SCRIPTS: readonly [RegExp, readonly string[]][] = [
  [/\p{Script=Cyrillic}/gu, ['ru', 'uk', 'bg', 'sr', 'mk', 'be', 'kk', 'ky', 'mn', 'tg', 'tt']],
  [/\p{Script=Greek}/gu, ['el']],
  [/\p{Script=Arabic}/gu, ['ar', 'fa', 'ur', 'ps', 'ug', 'ku', 'sd']],
  [/\p{Script=Hebrew}/gu, ['he', 'iw', 'yi']],
  [/[\p{Script=Hiragana}\p{Script=Katakana}]/gu, ['ja']],
  [/\p{Script=Hangul}/gu, ['ko']],
  [/\p{Script=Thai}/gu, ['th']],
  [/\p{Script=Devanagari}/gu, ['hi', 'mr', 'ne', 'sa']],
];
/** Languages so near to one another that a short text does not tell them apart. */
const NEAR = [
  ['no', 'nb', 'nn', 'da', 'sv'],
  ['cs', 'sk'],
  ['hr', 'sr', 'bs', 'sl'],
  ['ms', 'id'],
  ['es', 'gl', 'ca', 'pt'],
  ['uk', 'ru', 'be', 'bg'],
];

export default defineRule({
  id: 'other-language',
  title: 'Alt text in another language',
  group: 'words',
  about:
    'The alt text is in another language than the page declares, so a screen reader pronounces it by the wrong rules. Mark the language or translate the text. Only texts long enough to be sure of are reported.',
  scope: 'appearance',
  gives: ['cantTell'],
  formats: EVERY_FORMAT,
  documentSources: [WCAG2ICT],
  sources: [SC_3_1_2],
  notForFormulas: true,
  parameters: z.object({
    /** Letters that a text must have. */
    letters: z
      .int()
      .min(10)
      .max(500)
      .default(24)
      .meta({ label: 'Letters for a language', lead: 'Check language in texts of', unit: 'letters or more' }),
  }),
  examples: {
    passes: [
      { html: '<img src="a.jpg" alt="The ferry leaves the quay in the morning">' },
      { html: '<img src="a.jpg" lang="de" alt="Die Fähre verlässt am Morgen den Hafen">' },
      { html: '<img src="a.jpg" alt="Brannoch">' },
    ],
    fails: [
      {
        html: '<img src="a.jpg" alt="Die Fähre verlässt am Morgen den Hafen">',
        message: '“Die Fähre verlässt am Morgen den Hafen” reads as German; the page declares English here.',
      },
      {
        html: '<img src="a.jpg" alt="The ferry leaves the quay in the morning">',
        lang: 'fr',
        message: '“The ferry leaves the quay in the morning” reads as English; the page declares French here.',
      },
    ],
  },
  check(context, { letters }, know) {
    const words = heardWords(context.appearance);
    const stated = statedLanguage(context)?.toLowerCase().split('-')[0];
    if (words === null || !stated || !/^[a-z]{2,3}$/.test(stated)) return null;
    const text = normalise(words);
    if (notProse(text)) return null;
    const own = text.match(/\p{L}/gu)?.length ?? 0;
    // Names and labels are in no language.
    if (own < letters && !SCRIPTS.some(([script]) => (text.match(script)?.length ?? 0) >= 4)) return null;
    const plain = englishWords(text, stated, know);
    if (plain)
      return {
        outcome: 'cantTell',
        message: {
          id: 'other-language.other',
          values: { text: clipped(text), found: languageName('en'), stated: languageName(stated) },
        },
        span: trimmedSpan(words),
      };
    const script = SCRIPTS.find(([s]) => (text.match(s)?.length ?? 0) > own / 2);
    const found = know.recognise(text);
    if (!found || found.language === stated) return null;
    if (script ? script[1].includes(stated) : !isSure(text, stated, found)) return null;
    if (NEAR.some((group) => group.includes(found.language) && group.includes(stated))) return null;
    return {
      outcome: 'cantTell',
      message: {
        id: 'other-language.other',
        values: { text: clipped(text), found: languageName(found.language), stated: languageName(stated) },
      },
      span: trimmedSpan(words),
    };
  },
});

/** Words in lower case that a text needs, so that English can be recognised in it by a dictionary. */
const FEWEST = 2;
/** Share of them that the dictionary of the stated language may have: words that both have. */
const SHARED = 0.34;

/** Whether all words of a text that are no names are English ones, and hardly any of them of the stated language. */
function englishWords(text: string, stated: string, know: Knowledge): boolean {
  if (stated === 'en') return false;
  const words = text.match(/(?<![\p{L}\p{N}_./-])\p{Ll}{3,}(?![\p{L}\p{N}_./])/gu) ?? [];
  const own = words.length < FEWEST ? null : know.speller(stated);
  const english = own && know.speller('en');
  if (!own || !english || !words.every((w) => english.knows(w))) return false;
  return words.filter((w) => own.knows(w)).length <= SHARED * words.length;
}

/** Words in lower case are words; a row of capitalised ones is names, which are the same in every language. */
function isSure(text: string, stated: string, found: { score: number; scoreOf(language: string): number }): boolean {
  const lower = text.match(/(?<!\p{L})\p{Ll}{2,}/gu)?.length ?? 0;
  return lower >= 3 && found.score >= 0.5 && found.score - found.scoreOf(stated) >= 0.15;
}
