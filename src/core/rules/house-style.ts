import { z } from 'zod';
import { lengthOf, normalise } from '../words/graphemes';
import { FRONT_MATTER_KEYS } from '../model/document';
import { EVERY_FORMAT } from './support/formats';
import { defineRule } from './support/rule';
import { type RuleFinding } from '../model/finding';
import { HOUSE_STYLE } from './support/sources';
import { clipped, heardWords, quoted, trimmedSpan } from './support/words';

const Phrase = z.string().trim().min(1).max(200);
const Style = z.object({
  /** Never to be said. */
  banned: z.array(Phrase).max(500).default([]).meta({ label: 'Banned phrases', help: 'One a line.' }),
  /** One of them has to be said. */
  required: z
    .array(Phrase)
    .max(100)
    .default([])
    .meta({ label: 'Required phrases, one in every text', help: 'One a line.' }),
  /** What is written in one way here: the wrong spelling, and the right one. */
  preferred: z
    .array(z.object({ instead: Phrase, use: Phrase }))
    .max(500)
    .default([])
    .meta({ label: 'Preferred spellings', help: 'One a line: web site = website' }),
  prefix: z.string().max(200).default('').meta({ label: 'Begins with', lead: 'Every text begins with' }),
  suffix: z.string().max(200).default('').meta({ label: 'Ends with', lead: 'and ends with', unit: '.' }),
  firstLetter: z
    .enum(['any', 'upper', 'lower'])
    .default('any')
    .meta({
      label: 'First letter',
      lead: 'The first letter is',
      unit: ',',
      choices: { any: 'left as written', upper: 'a capital', lower: 'a small letter' },
    }),
  closingStop: z
    .enum(['any', 'always', 'never'])
    .default('any')
    .meta({
      label: 'Full stop at the end',
      lead: 'the full stop at the end is',
      unit: '.',
      choices: { any: 'left as written', always: 'always', never: 'never' },
    }),
  /** Graphemes; 0 for none. */
  minimum: z
    .int()
    .min(0)
    .max(1000)
    .default(0)
    .meta({ label: 'Characters at least in this house', lead: 'Every text has between' }),
  maximum: z
    .int()
    .min(0)
    .max(2000)
    .default(0)
    .meta({ label: 'Characters at most in this house', lead: 'and', unit: 'characters (0: no limit).' }),
  /** Delivered below pictures whose words a machine drafted; none where it is empty. */
  draftNote: z.string().trim().max(200).default('').meta({
    label: 'Note below pictures with drafted words',
    lead: 'Where a machine drafted the alt text, the page says',
    unit: 'below the picture (empty: nothing).',
  }),
  /** Keys of Markdown front matter that name a picture, and those that hold its words. */
  frontMatter: z
    .array(z.object({ picture: Phrase, words: Phrase }))
    .max(100)
    .default([...FRONT_MATTER_KEYS])
    .meta({
      section: 'documents',
      label: 'Images in the front matter of Markdown',
      help: 'The key of the image, and the key of its alt text, one pair a line. Dots lead into nested keys: cover.image = cover.alt. Used from the next survey on.',
    }),
  /** What the metadata of a book say once none of its pictures is without words or a decision. */
  bookAdds: z
    .enum(['feature', 'summary', 'nothing'])
    .default('feature')
    .meta({
      section: 'documents',
      label: 'Accessibility metadata of books',
      lead: 'Once no image in a book is missing its alt text, Detto adds to the book’s metadata',
      unit: '.',
      choices: { feature: 'that it has alt text', summary: 'that it has alt text, and a summary', nothing: 'nothing' },
    }),
  bookSummary: z.string().trim().max(500).default('').meta({
    section: 'documents',
    label: 'Accessibility summary of books',
    lead: 'The summary is',
    unit: '(empty: a sentence in the language of the book).',
  }),
});
type Style = z.infer<typeof Style>;

const escaped = (phrase: string) => phrase.replace(/[.*+?^${}()|[\]\\]/g, '\\$&').replace(/\s+/g, '\\s+');

/** A phrase as a whole, not as a part of longer words. */
const asWords = (phrase: string) => new RegExp(`(?<![\\p{L}\\p{N}])${escaped(phrase)}(?![\\p{L}\\p{N}])`, 'iu');

const STOP = /[.!?…。！？]$/u;

function breach(words: string, s: Style): Pick<RuleFinding, 'message' | 'span' | 'fixes'> | null {
  const text = normalise(words);
  const whole = trimmedSpan(words);
  const say = (better: string, part?: string) => [
    { kind: 'use words' as const, text: better, ...(part ? { part } : {}) },
  ];
  for (const phrase of s.banned) {
    const found = asWords(phrase).exec(words);
    if (found)
      return {
        message: { id: 'house-style.banned', values: { phrase: clipped(found[0]) } },
        span: { start: found.index, end: found.index + found[0].length },
      };
  }
  for (const { instead, use: right } of s.preferred) {
    const found = asWords(instead).exec(words);
    if (found && found[0] !== right)
      return {
        message: { id: 'house-style.preferred', values: { right: clipped(right), wrong: clipped(found[0]) } },
        span: { start: found.index, end: found.index + found[0].length },
        fixes: say(words.slice(0, found.index) + right + words.slice(found.index + found[0].length), right),
      };
  }
  if (s.required.length > 0 && !s.required.some((phrase) => asWords(phrase).test(words)))
    return {
      message: { id: 'house-style.required', values: { phrases: s.required.map((r) => quoted(r)) } },
      span: whole,
    };
  if (s.prefix && !text.startsWith(s.prefix))
    return {
      message: { id: 'house-style.prefix', values: { prefix: clipped(s.prefix) } },
      span: whole,
      fixes: say(s.prefix + text),
    };
  if (s.suffix && !text.endsWith(s.suffix))
    return {
      message: { id: 'house-style.suffix', values: { suffix: clipped(s.suffix) } },
      span: whole,
      fixes: say(text + s.suffix),
    };
  const first = /\p{L}/u.exec(text)?.[0] ?? '';
  const fits = s.firstLetter === 'upper' ? first.toLocaleUpperCase() : first.toLocaleLowerCase();
  if (s.firstLetter !== 'any' && first !== fits && text.startsWith(first))
    return {
      message: { id: 'house-style.first-letter', values: { case: s.firstLetter } },
      span: { start: whole.start, end: whole.start + 1 },
      fixes: say(fits + text.slice(1)),
    };
  if (s.closingStop === 'always' && !STOP.test(text))
    return { message: { id: 'house-style.stop' }, span: whole, fixes: say(`${text}.`) };
  if (s.closingStop === 'never' && /(?<!\.)\.$/.test(text))
    return {
      message: { id: 'house-style.no-stop' },
      span: { start: whole.end - 1, end: whole.end },
      fixes: say(text.slice(0, -1)),
    };
  const length = lengthOf(text);
  if (s.minimum > 0 && length < s.minimum)
    return { message: { id: 'house-style.minimum', values: { length, minimum: s.minimum } }, span: whole };
  if (s.maximum > 0 && length > s.maximum)
    return { message: { id: 'house-style.maximum', values: { length, maximum: s.maximum } }, span: whole };
  return null;
}

export default defineRule({
  id: 'house-style',
  title: 'House style',
  group: 'words',
  about:
    'What this collection has agreed on: banned and required phrases, spellings, how a text begins and ends, its first letter, its full stop and its length. Nothing is checked until you set it in the house style.',
  scope: 'appearance',
  gives: ['advice'],
  formats: EVERY_FORMAT,
  sources: [HOUSE_STYLE],
  parameters: Style,
  examples: {
    passes: [
      { html: '<img src="a.jpg" alt="a puffin">' },
      { html: '<img src="a.jpg" alt="A puffin.">', parameters: { closingStop: 'always', firstLetter: 'upper' } },
      { html: '<img src="a.jpg" alt="The email desk">', parameters: { banned: ['mail'] } },
    ],
    fails: [
      {
        html: '<img src="a.jpg" alt="Our lovely ferry">',
        parameters: { banned: ['lovely'] },
        message: '“lovely” is a banned phrase.',
      },
      {
        html: '<img src="a.jpg" alt="The web site of the ferry">',
        parameters: { preferred: [{ instead: 'web site', use: 'website' }] },
        message: 'The house style writes “website”, not “web site”.',
      },
      {
        html: '<img src="a.jpg" alt="a puffin">',
        parameters: { firstLetter: 'upper' },
        message: 'The house style begins every text with a capital.',
      },
      {
        html: '<img src="a.jpg" alt="A puffin">',
        parameters: { closingStop: 'always' },
        message: 'The house style ends every text with a full stop.',
      },
      {
        html: '<img src="a.jpg" alt="A puffin">',
        parameters: { maximum: 5 },
        message: '8 characters; the house style wants at most 5.',
      },
    ],
  },
  check({ appearance }, style) {
    const words = heardWords(appearance);
    const found = words === null ? null : breach(words, style);
    return found && { outcome: 'advice', ...found };
  },
});
