import type { Appearance, Purpose } from '../model/appearance';
import type { Message } from '../model/message';
import type { Picture } from '../model/picture';
import { colourMessage, thingMessage } from '../picture/names';
import { isTextPicture, MANY_WORDS, recognisedWords } from '../purpose/propose';
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
  /** Words that people or pages give the same picture in other places. */
  elsewhere: readonly string[];
}

const NOISE =
  /^(?:img|dsc\w?|image|photo|pic(?:ture)?|final|copy|new|v?\d+|\d+x\d+|px|web|small|large|thumb(?:nail)?|hero|banner|bg|icon|logo|min|scaled|edit(?:ed)?|[a-f0-9]{8,})$/i;

/** The words in a file's name that mean something: `red-bicycle-2_final.jpg` gives `red bicycle`. */
export function fileNameWords(src: string | null): string {
  if (!src || src.startsWith('data:')) return '';
  let file = src.split(/[?#]/)[0]!.split('/').pop() ?? '';
  try {
    file = decodeURIComponent(file);
  } catch {
    // A malformed escape is part of the name.
  }
  const words = file
    .replace(/\.[a-z0-9]{2,5}$/i, '')
    .replace(/(\p{Ll})(\p{Lu})/gu, '$1 $2')
    .split(/[-_+.\s]+/)
    .filter((w) => w.length > 1 && !NOISE.test(w) && /\p{L}/u.test(w))
    // `boat3`: the number tells files apart, not pictures.
    .map((w) => w.replace(/\d+$/, '').toLowerCase());
  return words.filter((w) => w.length > 1).join(' ');
}

/** Pages up to which the heading above a picture may be about it. */
const FEW_PAGES = 3;

/** Graphemes up to which what is written in a picture can be its words. */
const WRITTEN = 150;

/** A heading without the number of its section (`2.2.3. Channels`), which says nothing of a picture. */
const withoutNumber = (heading: string) => heading.replace(/^(?:(?:\d+\.)+\d*|\d+(?:\.\d+)+)(?:\s+|$)/, '').trim();

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
  elsewhere,
}: DraftInput): Draft {
  if (purpose === 'decorative' && purposeIsSure)
    return { text: null, evidence: [], missing: { id: 'question.decorative' } };
  const fileWords = fileNameWords(a.markup.src ?? picture?.src ?? null);
  const heading = reach > FEW_PAGES ? null : withoutNumber(a.context.headings.at(-1) ?? '') || null;
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
    if (!target) note('file name', fileWords);
    const text = target ? tidy(target) : other ? tidy(other) : fileWords ? sentence(fileWords) : null;
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
  const adds = fileWords && !fileWords.split(' ').every((w) => caption.includes(w));
  const place = heading && !fileWords.includes(wordsKey(heading)) ? tidy(heading) : null;
  if (adds)
    return {
      text: sentence(place ? `${fileWords}, ${place}` : fileWords),
      evidence,
      missing: question(colours, things),
    };
  if (a.markup.title && wordsKey(a.markup.title) !== caption)
    return { text: tidy(a.markup.title), evidence, missing: question(colours, things) };
  if (fileWords && place)
    return { text: sentence(`${fileWords}, ${place}`), evidence, missing: question(colours, things) };
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
