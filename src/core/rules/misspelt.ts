import { z } from 'zod';
import { languageName } from '../model/message';
import { wordsOf } from '../words/graphemes';
import { fileNameOf } from '../picture/file-name';
import { notProse } from '../words/text-kind';
import { EVERY_FORMAT } from './support/formats';
import { defineRule, type Knowledge } from './support/rule';
import type { RuleContext } from '../model/rule-context';
import { COMMON_PRACTICE } from './support/sources';
import { clipped, heardWords, languageOf } from './support/words';

/** Shorter words are abbreviations more often than mistakes. */
const SHORTEST = 4;
/** Further unknown words in one text: it is in another language, or in a jargon that no dictionary has. */
const MOST = 3;

/** Every word that stands around the picture on its page, as it is written. */
function knownAround({ appearance: a, page }: RuleContext): Set<string> {
  const around = [
    a.context.before,
    a.context.after,
    a.context.caption,
    a.context.control?.text,
    a.context.nextHeading,
    page.title,
    page.description,
    ...a.context.headings,
    ...page.headings,
  ];
  const words = around.join(' ').match(/[\p{L}\p{M}]+(?:[’'-][\p{L}\p{M}]+)*/gu) ?? [];
  // A compound that is known whole is known in its parts.
  return new Set(words.flatMap((w) => (w.includes('-') ? [w, ...w.split('-')] : [w])));
}

/** French and Italian words that lean on the next one. */
const LEANING = /^(?:[ldjmtscn]|(?:jus|lors|puis|quoi)?qu|quelqu|all|dell|nell|sull|dall|quest|quell|un)[’']/i;

interface Unknown {
  word: string;
  start: number;
}

/** Lower-case words that no dictionary has: names are written with capitals, codes with digits. */
function unknownWords(words: string, accepted: (word: string) => boolean): Unknown[] {
  const out: Unknown[] = [];
  for (const m of words.matchAll(/[\p{L}\p{M}\p{N}_./@:&+#-]*[\p{L}\p{M}](?:[’'][\p{L}\p{M}]+)*[\p{N}_/@:&+#]*/gu)) {
    // A code, an address, a file's name: no word of a language.
    if (/[\p{N}_/@:&+#]|\p{L}\.\p{L}/u.test(m[0])) continue;
    for (const part of m[0].matchAll(/[\p{L}\p{M}]+(?:[’'][\p{L}\p{M}]+)*/gu)) {
      const start = m.index + part.index;
      if (accepted(part[0])) continue;
      const word = part[0].replace(LEANING, '');
      if (word.length >= SHORTEST && /^\p{Ll}/u.test(word) && !/\p{Lu}/u.test(word) && !accepted(word))
        out.push({ word, start: start + part[0].length - word.length });
    }
  }
  return out;
}

/** Whether a word, or what it is the plural of, belongs to the collection's own words. */
const isOfCollection = (word: string, vocabulary: ReadonlySet<string>): boolean =>
  vocabulary.has(word) || (word.endsWith('s') && vocabulary.has(word.slice(0, -1))) || vocabulary.has(`${word}s`);

export default defineRule({
  id: 'misspelt',
  title: 'Misspelt word',
  group: 'words',
  about:
    'The alt text contains a word that is in no dictionary of its language. Screen readers read out what is written, mistakes included. Names, words that stand on the page itself, and the words on the house style’s own list are left alone.',
  scope: 'appearance',
  gives: ['advice'],
  formats: EVERY_FORMAT,
  sources: [COMMON_PRACTICE],
  notForFormulas: true,
  parameters: z.object({
    /** Words of this house that no dictionary has. */
    words: z
      .array(z.string().trim().min(1).max(80))
      .max(5000)
      .default([])
      .meta({ label: 'Word list', help: 'Words accepted as correctly spelt, one a line.' }),
  }),
  examples: {
    passes: [
      { html: '<img src="a.jpg" alt="Puffins on a grassy cliff">' },
      { html: '<img src="a.jpg" alt="The Brannoch ferry">' },
      { html: '<p>Our skerrymen row out.</p><img src="a.jpg" alt="Four skerrymen in a boat">' },
      { html: '<img src="a.jpg" alt="A colour photo of the harbor">' },
      { html: '<img src="a.jpg" alt="Four holmers in a boat">', parameters: { words: ['holmers'] } },
    ],
    fails: [
      {
        html: '<img src="a.jpg" alt="Two puffins on a grasy cliff top">',
        message: '“grasy” is in no English dictionary.',
      },
      {
        html: '<img src="a.jpg" alt="Zwei Vögel auf der grünnen Klippe">',
        lang: 'de',
        message: '“grünnen” is in no German dictionary.',
      },
    ],
  },
  check(context, { words: house }, know) {
    const words = heardWords(context.appearance);
    const language = languageOf(context)?.toLowerCase() ?? null;
    const speller = words !== null && language ? know.speller(language) : null;
    if (words === null || !language || !speller || isFileName(words, context) || notProse(words)) return null;
    // Gathered only for a word that is in no dictionary, which few texts have.
    let around: Set<string> | null = null;
    const own = new Set(house.map((w) => w.toLowerCase()));
    const accepted = (word: string) =>
      own.has(word) ||
      speller.knows(word) ||
      isOfCollection(word.toLowerCase(), know.vocabulary) ||
      (around ??= knownAround(context)).has(word);
    const unknown = unknownWords(words, accepted);
    if (unknown.length === 0 || unknown.length > MOST || readsAsOther(words, language, know)) return null;
    // A word of English in a text of another language is in no need of a dictionary; `other-language` may have to say so.
    const english = language.startsWith('en') ? null : know.speller('en');
    if (english && unknown.every(({ word }) => english.knows(word))) return null;
    const { word, start } = unknown[0]!;
    const better = speller.suggest(word, 3);
    return {
      outcome: 'advice',
      message: {
        id: unknown.length > 1 ? 'misspelt.several' : 'misspelt.one',
        values: {
          word: clipped(word),
          language: languageName(language.split('-')[0]!),
          ...(unknown[1] ? { other: clipped(unknown[1].word) } : {}),
        },
      },
      span: { start, end: start + word.length },
      fixes: [
        ...better.map((b) => ({
          kind: 'use words' as const,
          text: words.slice(0, start) + b + words.slice(start + word.length),
          part: b,
        })),
        { kind: 'accept word', word },
      ],
    };
  },
});

/** Parts of a file's name are codes and abbreviations, whatever stands between them. */
function isFileName(words: string, { appearance, picture }: RuleContext): boolean {
  const plain = (text: string) => wordsOf(text.replace(/[_-]+/g, ' ')).join(' ');
  const src = appearance.markup.src ?? picture?.src ?? '';
  return plain(words) === plain(fileNameOf(src).replace(/\.[a-z0-9]{2,5}$/i, ''));
}

/** The wrong dictionary knows nothing. */
function readsAsOther(words: string, language: string, know: Knowledge): boolean {
  const found = know.recognise(words);
  const stated = language.split('-')[0]!;
  return found !== null && found.language !== stated && found.score - found.scoreOf(stated) >= 0.15;
}
