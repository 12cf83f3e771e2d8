import { languagesFor } from '../words/language/words';
import { normalise } from '../words/graphemes';
import { recognise } from '../words/recognise';
import { saidWords } from '../words/said';

/** Letters from which the language of a text can be recognised, and how well it has to fit another one. */
const LETTERS = 28;
const OTHER = 0.45;

/** A text without the words that only say that it is a picture ("This image shows"). */
export function withoutOpening(text: string, language: string | null): string {
  for (const { openings } of languagesFor(language))
    for (const pattern of openings) {
      const rest = text.slice(pattern.exec(text)?.[0].length ?? 0);
      if (rest !== text && /\p{L}/u.test(rest)) return sentence(rest.trimStart());
    }
  return text;
}

/** A heading without the number of its section (`2.2.3. Channels`), which says nothing of a picture. */
export const withoutNumber = (heading: string) =>
  heading
    .replace(/\s*[¶#§🔗]\s*$/u, '')
    .replace(/^\s*\[[^\]]{0,2}\]\s*/u, '')
    .replace(/^(?:(?:\d+\.)+\d*|\d+(?:\.\d+)+)(?:\s+|$)/, '')
    .trim();

/** Whether two texts share a word of more than three letters, whatever its ending. */
export function sharesWord(one: string, other: string, language: string | null): boolean {
  if (one === '' || other === '') return false;
  const words = saidWords(other, language);
  return [...saidWords(one, language)].some((w) => w.length > 3 && words.has(w));
}

/** Whether a text says all of some words, whatever their endings. */
export function saysAll(text: string, words: string, language: string | null): boolean {
  const said = saidWords(text, language);
  return [...saidWords(words, language)].every((w) => said.has(w));
}

/** Whether a text is surely in another language than the draft is to be in, so that it is a hint only. */
export function isInOtherLanguage(text: string, language: string | null): boolean {
  if (language === null || (text.match(/\p{L}/gu)?.length ?? 0) < LETTERS) return false;
  const own = language.toLowerCase().split('-')[0]!;
  const guess = recognise(text);
  return guess !== null && guess.language !== own && guess.score >= OTHER && guess.scoreOf(own) < guess.score / 2;
}

/** With a capital at its start, where that is a word and no part of code. */
export const sentence = (text: string) =>
  /^\p{L}{2}/u.test(text) ? text.charAt(0).toLocaleUpperCase() + text.slice(1) : text;
/** In one line, without the full stop at its end. */
export const tidy = (text: string) => normalise(text).replace(/[.\s]+$/, '');
