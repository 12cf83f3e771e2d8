import type { Appearance, Purpose } from '../model/appearance';
import type { Message } from '../model/message';
import type { Picture } from '../model/picture';
import { fileNameWords, NOTHING_SHARED, type SharedNameParts } from '../picture/file-name-words';
import { colourMessage, thingMessage } from '../picture/names';
import { isTextPicture, MANY_WORDS, recognisedWords } from '../purpose/propose';
import { notProse } from '../words/text-kind';
import { saidWords } from '../words/said';
import { normalise, wordsKey } from '../words/graphemes';

/** What a draft was made from, one line each, for the person who reads it. */
export interface DraftEvidence {
  from:
    | 'link target'
    | 'caption'
    | 'file name'
    | 'heading'
    | 'colours'
    | 'title'
    | 'elsewhere'
    | 'in the file'
    | 'text'
    | 'things';
  /** As it stands there; a message where it is in no language, such as the names of colours. */
  text: string | Message;
}

export interface Draft {
  /** Null when nothing is known that could be said honestly. */
  text: string | null;
  evidence: DraftEvidence[];
  /** What only a person can add, as a question. */
  missing: Message | null;
}

export interface DraftInput {
  appearance: Appearance;
  /** What it does there, and whether that is settled or quite sure: what decorates gets no words. */
  purpose: Purpose;
  purposeIsSure: boolean;
  /** On how many pages the picture is; what one of them is about is not what it shows on all of them. */
  reach: number;
  picture: Picture | null;
  /** Colours in plain words, in order of weight. */
  colours: readonly string[];
  /** Things that were recognised in it, with how many there are. */
  things?: readonly { name: string; count: number }[];
  /** Title of the page that the link leads to, where it was surveyed. */
  targetTitle: string | null;
  /** What the file names of the collection share. */
  sharedNames?: SharedNameParts;
  /** Words that people or pages give the same picture in other places. */
  elsewhere: readonly string[];
}

/** Pages up to which the heading above a picture may be about it. */
const FEW_PAGES = 3;

/** Graphemes up to which what is written in a picture can be its words. */
const WRITTEN = 150;

/** A heading without the number of its section (`2.2.3. Channels`), which says nothing of a picture. */
const withoutNumber = (heading: string) =>
  heading
    .replace(/\s*[¶#§🔗]\s*$/u, '')
    .replace(/^(?:(?:\d+\.)+\d*|\d+(?:\.\d+)+)(?:\s+|$)/, '')
    .trim();

function sharesWord(one: string, other: string, language: string | null): boolean {
  const words = saidWords(other, language);
  return [...saidWords(one, language)].some((w) => w.length > 3 && words.has(w));
}

function saysAll(text: string, words: string, language: string | null): boolean {
  const said = saidWords(text, language);
  return [...saidWords(words, language)].every((w) => said.has(w));
}

const sentence = (text: string) => text.charAt(0).toLocaleUpperCase() + text.slice(1);
const tidy = (text: string) => normalise(text).replace(/[.\s]+$/, '');

/**
 * Composes a first draft from what is known around the picture, in its file, and of what is written and shown in it. It
 * cannot see what matters, so it says what is missing instead of guessing.
 */
export function composeDraft({
  appearance: a,
  purpose,
  purposeIsSure,
  reach,
  picture,
  colours,
  things = [],
  targetTitle,
  sharedNames = NOTHING_SHARED,
  elsewhere,
}: DraftInput): Draft {
  if (purpose === 'decorative' && purposeIsSure)
    return { text: null, evidence: [], missing: { id: 'question.decorative' } };
  const fileWords = fileNameWords(a.markup.src ?? picture?.src ?? null, sharedNames);
  const above = reach > FEW_PAGES ? null : withoutNumber(a.context.headings.at(-1) ?? '') || null;
  const language = a.context.lang;
  // A heading is about the picture where it shares a word with what the picture is called.
  const heading =
    above &&
    notProse(above) === null &&
    !/\w\.\w/.test(above) &&
    sharesWord(above, `${fileWords} ${a.context.caption ?? ''}`, language)
      ? above
      : null;
  const evidence: DraftEvidence[] = [];
  const note = (from: DraftEvidence['from'], text: string | Message | null) => {
    if (text) evidence.push({ from, text });
  };

  const functional = a.element === 'area' || a.element === 'input' || a.context.control?.text === '';
  const other = elsewhere.find((w) => w.trim() !== '') ?? null;
  if (functional) {
    const target = targetTitle ?? a.markup.title;
    note('link target', targetTitle ?? a.context.control?.href ?? null);
    note('title', a.markup.title);
    note('elsewhere', other);
    // Of a map, the file is all of it.
    const named = a.element === 'area' ? '' : fileWords;
    if (!target) note('file name', named);
    const text = target ? tidy(target) : other ? tidy(other) : named ? sentence(named) : null;
    const missing = { id: a.context.control?.kind === 'button' ? 'question.action' : 'question.target' };
    return { text, evidence, missing: text && target ? null : missing };
  }

  const seen = picture?.analysis ?? null;
  const inFile = seen?.words ?? null;
  const written = seen?.text && isTextPicture(seen) ? normalise(seen.text.replace(/\n/g, ' ')) : null;
  note('elsewhere', other);
  note('in the file', inFile);
  note('text', written);
  if (things.length > 0)
    note('things', {
      id: 'list',
      values: {
        items: things.map(({ name, count }) => ({ id: 'things', values: { thing: thingMessage(name), count } })),
      },
    });
  note('file name', fileWords);
  note('caption', a.context.caption);
  note('title', a.markup.title);
  note('heading', heading);
  if (colours.length > 0) note('colours', { id: 'list', values: { items: colours.map(colourMessage) } });
  if (other) return { text: tidy(other), evidence, missing: null };
  if (inFile) return { text: tidy(inFile), evidence, missing: { id: 'question.enough' } };
  if (written) {
    const short = written.length <= WRITTEN && recognisedWords(seen) <= MANY_WORDS;
    return {
      // What has many words begins with what it is about, mostly.
      text: short ? written : tidy(seen!.text!.split('\n')[0]!),
      evidence,
      missing: short ? null : { id: 'question.long-text' },
    };
  }

  // The caption is heard anyway; what the file name adds to it is worth more than saying it twice.
  const caption = a.context.caption ? wordsKey(a.context.caption) : '';
  // One word of a name says something where the text around has it, too.
  const isTelling =
    fileWords.includes(' ') || sharesWord(fileWords, `${above ?? ''} ${a.context.before} ${a.context.after}`, language);
  const adds = fileWords && isTelling && !fileWords.split(' ').every((w) => caption.includes(w));
  // Which says more of the same: the words of the name, or the heading that has them all.
  const best =
    heading && fileWords.includes(' ') && saysAll(heading, fileWords, language) ? tidy(heading) : sentence(fileWords);
  if (adds) return { text: best, evidence, missing: question(colours, things) };
  if (a.markup.title && wordsKey(a.markup.title) !== caption)
    return { text: tidy(a.markup.title), evidence, missing: question(colours, things) };
  return { text: null, evidence, missing: question(colours, things) };
}

function question(colours: readonly string[], things: readonly { name: string; count: number }[]): Message {
  const [thing] = things;
  if (thing) return { id: 'question.thing', values: { thing: thingMessage(thing.name), count: thing.count } };
  const [first, second] = colours.map(colourMessage);
  if (!first) return { id: 'question.seen' };
  return second
    ? { id: 'question.colours', values: { first, second } }
    : { id: 'question.colour', values: { colour: first } };
}
