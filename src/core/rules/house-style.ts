import { z } from 'zod';
import { lengthOf, normalise } from '../words/graphemes';
import { defineRule } from './support/rule';
import { type RuleFinding } from '../model/finding';
import { HOUSE_STYLE } from './support/sources';
import { count, heardWords, quoted, trimmedSpan } from './support/words';

const Phrase = z.string().trim().min(1).max(200);
const Style = z.object({
  /** Never to be said. */
  banned: z.array(Phrase).max(500).default([]),
  /** One of them has to be said. */
  required: z.array(Phrase).max(100).default([]),
  /** What is written in one way here: the wrong spelling, and the right one. */
  preferred: z
    .array(z.object({ instead: Phrase, use: Phrase }))
    .max(500)
    .default([]),
  prefix: z.string().max(200).default(''),
  suffix: z.string().max(200).default(''),
  firstLetter: z.enum(['any', 'upper', 'lower']).default('any'),
  closingStop: z.enum(['any', 'always', 'never']).default('any'),
  /** Graphemes; 0 for none. */
  minimum: z.int().min(0).max(1000).default(0),
  maximum: z.int().min(0).max(2000).default(0),
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
        message: `${quoted(found[0])} is not said in this house.`,
        span: { start: found.index, end: found.index + found[0].length },
      };
  }
  for (const { instead, use: right } of s.preferred) {
    const found = asWords(instead).exec(words);
    if (found && found[0] !== right)
      return {
        message: `This house writes ${quoted(right)}, not ${quoted(found[0])}.`,
        span: { start: found.index, end: found.index + found[0].length },
        fixes: say(words.slice(0, found.index) + right + words.slice(found.index + found[0].length), right),
      };
  }
  if (s.required.length > 0 && !s.required.some((phrase) => asWords(phrase).test(words)))
    return { message: `This house wants ${s.required.map((r) => quoted(r)).join(' or ')} in every text.`, span: whole };
  if (s.prefix && !text.startsWith(s.prefix))
    return {
      message: `This house begins every text with ${quoted(s.prefix)}.`,
      span: whole,
      fixes: say(s.prefix + text),
    };
  if (s.suffix && !text.endsWith(s.suffix))
    return {
      message: `This house ends every text with ${quoted(s.suffix)}.`,
      span: whole,
      fixes: say(text + s.suffix),
    };
  const first = /\p{L}/u.exec(text)?.[0] ?? '';
  const fits = s.firstLetter === 'upper' ? first.toLocaleUpperCase() : first.toLocaleLowerCase();
  if (s.firstLetter !== 'any' && first !== fits && text.startsWith(first))
    return {
      message: `This house begins with ${s.firstLetter === 'upper' ? 'a capital' : 'a small letter'}.`,
      span: { start: whole.start, end: whole.start + 1 },
      fixes: say(fits + text.slice(1)),
    };
  if (s.closingStop === 'always' && !STOP.test(text))
    return { message: 'This house closes every text with a full stop.', span: whole, fixes: say(`${text}.`) };
  if (s.closingStop === 'never' && /(?<!\.)\.$/.test(text))
    return {
      message: 'This house closes no text with a full stop.',
      span: { start: whole.end - 1, end: whole.end },
      fixes: say(text.slice(0, -1)),
    };
  const length = lengthOf(text);
  if (s.minimum > 0 && length < s.minimum)
    return { message: `${count(length, 'character')}; this house wants at least ${s.minimum}.`, span: whole };
  if (s.maximum > 0 && length > s.maximum)
    return { message: `${count(length, 'character')}; this house wants at most ${s.maximum}.`, span: whole };
  return null;
}

export default defineRule({
  id: 'house-style',
  title: 'House style',
  group: 'words',
  about:
    'What this collection has agreed on: phrases that are never said, or always; spellings; a beginning or an end; the first letter, the closing stop, the shortest and the longest. Nothing is asked until it is set in the house style.',
  scope: 'appearance',
  gives: ['advice'],
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
        message: '“lovely” is not said in this house.',
      },
      {
        html: '<img src="a.jpg" alt="The web site of the ferry">',
        parameters: { preferred: [{ instead: 'web site', use: 'website' }] },
        message: 'This house writes “website”, not “web site”.',
      },
      {
        html: '<img src="a.jpg" alt="a puffin">',
        parameters: { firstLetter: 'upper' },
        message: 'This house begins with a capital.',
      },
      {
        html: '<img src="a.jpg" alt="A puffin">',
        parameters: { closingStop: 'always' },
        message: 'This house closes every text with a full stop.',
      },
      {
        html: '<img src="a.jpg" alt="A puffin">',
        parameters: { maximum: 5 },
        message: '8 characters; this house wants at most 5.',
      },
    ],
  },
  check({ appearance }, style) {
    const words = heardWords(appearance);
    const found = words === null ? null : breach(words, style);
    return found && { outcome: 'advice', ...found };
  },
});
