import type { Appearance, Purpose } from '../model/appearance';
import type { Message } from '../model/message';
import { isSurely } from '../model/picture-analysis';
import type { Picture } from '../model/picture';
import { fileNameOf } from '../picture/file-name';
import { isHeld } from '../model/held-address';
import { fileNameWords, NOTHING_SHARED, type SharedNameParts } from '../picture/file-name-words';
import { colourMessage, thingMessage } from '../picture/names';
import { languagesFor } from '../words/language/words';
import { isTextPicture, kindName, MANY_WORDS, recognisedWords } from '../purpose/propose';
import { isEnlargement } from '../purpose/enlargement';
import { lengthOf, normalise, wordsKey, wordsOf } from '../words/graphemes';
import { withLines } from '../words/long-description';
import { recognise } from '../words/recognise';
import { saidWords } from '../words/said';
import { notProse } from '../words/text-kind';
import { captionParts } from './caption-parts';
import { NOTHING_SAID, type Draft, type DraftEvidence } from './draft';
import { fitLength } from './fit-length';
import { isInOtherLanguage, saysAll, sentence, sharesWord, tidy, withoutNumber, withoutOpening } from './known-texts';
import { gap, phrasesFor } from './phrases';

export interface DraftInput {
  appearance: Appearance;
  /** What it does there, and whether that is settled or quite sure: what decorates gets no words. */
  purpose: Purpose;
  purposeIsSure: boolean;
  /** What speaks for that purpose. */
  purposeEvidence: readonly Message[];
  /** From 0 to 1; 1 where a person has set it. */
  purposeSure: number;
  /** The language the text is to be in, BCP 47; null where nothing says it. */
  language: string | null;
  /** On how many pages the picture is; what one of them is about is not what it shows on all of them. */
  reach: number;
  picture: Picture | null;
  /** Colours in plain words, in order of weight. */
  colours: readonly string[];
  /** Things that were recognised in it, with how many there are. */
  things: readonly { name: string; count: number }[];
  /** Title of the page that the link leads to, where it was surveyed. */
  targetTitle: string | null;
  /** What the file names of the collection share. */
  sharedNames: SharedNameParts;
  /** Words that people or pages give the same picture in other places, in the same language and for the same purpose. */
  elsewhere: readonly string[];
  /** Accepted words of a picture that looks like it, in the same language; null for none. */
  lookAlike: string | null;
  /** The formula in words, where it shows one and its source is known. */
  formula: string | null;
  /** Graphemes that the house style allows. */
  limit: number;
}

/** What a drafter is given where nothing more is known. */
export const NOTHING_KNOWN: Omit<DraftInput, 'appearance'> = {
  purpose: 'informative',
  purposeIsSure: true,
  purposeEvidence: [],
  purposeSure: 0.5,
  language: null,
  reach: 1,
  picture: null,
  colours: [],
  things: [],
  targetTitle: null,
  sharedNames: NOTHING_SHARED,
  elsewhere: [],
  lookAlike: null,
  formula: null,
  limit: 100,
};

/** Pages up to which the heading above a picture may be about it. */
const FEW_PAGES = 3;
/** Graphemes of a title up to which it can stand in a draft beside a question. */
const SHORT = 70;

/**
 * Composes a first draft from what is known around the picture, in its file, and of what is written and shown in it. It
 * cannot see what matters, so it leaves a gap with a question there instead of guessing, and says nothing where nothing is
 * known.
 */
export function composeDraft(input: DraftInput): Draft {
  const { appearance: a, purpose, purposeIsSure } = input;
  if (purpose === 'decorative' && purposeIsSure)
    return {
      ...NOTHING_SAID,
      decorative: true,
      evidence: input.purposeEvidence.map((text) => ({ from: 'purpose', text })),
      missing: { id: 'question.decorative' },
      confidence: input.purposeSure,
    };
  const known = knownOf(input);
  if (input.formula)
    return said({
      ...known,
      text: input.formula,
      confidence: 0.9,
      evidence: [{ from: 'formula', text: input.formula }],
    });
  // What a link to the larger file is around describes the picture.
  const isControl = a.element === 'area' || a.element === 'input' || a.context.control?.text === '';
  if (isControl && !isEnlargement(a)) return ofControl(known);
  const [other] = input.elsewhere;
  if (other) return said({ ...known, text: other, confidence: 0.85 });
  switch (purpose) {
    case 'image of text':
      return ofText(known) ?? ofPicture(known);
    case 'complex':
      return ofComplex(known);
    default:
      return (isTextPicture(input.picture?.analysis) ? ofText(known) : null) ?? ofPicture(known);
  }
}

/** What is known, parted into what may be said and what is a hint only. */
interface Known {
  input: DraftInput;
  evidence: DraftEvidence[];
  /** Words of the file's name; empty for none. */
  fileWords: string;
  /** What the caption says is shown; empty for none, or where it is in another language. */
  shows: string;
  /** A heading that is about the picture. */
  heading: string | null;
  title: string | null;
  /** Words that the file itself carries, in the page's language. */
  inFile: string | null;
  /** Recognised text, in lines. */
  lines: string[];
}

function knownOf(input: DraftInput): Known {
  const { appearance: a, picture, language, things, colours, elsewhere, reach } = input;
  // A document's own reference leaves out that it is a document's.
  const isPart = Boolean(picture?.src && isHeld(picture.src));
  const fileWords = fileNameWords((isPart ? picture!.src : (a.markup.src ?? picture?.src)) ?? null, input.sharedNames);
  const caption = captionParts(a.context.caption ?? '');
  const above = reach > FEW_PAGES ? null : withoutNumber(a.context.headings.at(-1) ?? '') || null;
  // A heading is about the picture where it shares a word with what the picture is called.
  const heading =
    above &&
    notProse(above) === null &&
    !/\w\.\w/.test(above) &&
    sharesWord(above, `${fileWords} ${caption.shows}`, language)
      ? above
      : null;
  const seen = picture?.analysis ?? null;
  const lines = (seen?.text ?? '').split('\n').map(normalise).filter(Boolean);
  const title = a.markup.title ? tidy(a.markup.title) : null;
  const evidence: DraftEvidence[] = [];
  const note = (from: DraftEvidence['from'], text: string | Message | null | undefined) => {
    if (text) evidence.push({ from, text });
  };
  note('elsewhere', elsewhere[0]);
  note('look-alike', input.lookAlike);
  note('in the file', seen?.words);
  note('text', lines.length > 0 ? lines.join(' ').slice(0, EVIDENCE) : null);
  if (seen && isSurely(seen, 'chart', 'diagram', 'map', 'screenshot')) note('kind', kindName(seen.kind!));
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
  const own = (text: string | null) => (text && !isInOtherLanguage(text, language) ? text : null);
  return {
    input,
    evidence,
    fileWords,
    shows: withoutOpening(own(caption.shows) ?? '', language),
    heading: own(heading),
    title: own(title),
    inFile: own(seen?.words ?? null),
    lines,
  };
}

/** Characters of recognised text that are shown as evidence. */
const EVIDENCE = 200;

/** A link, a button, an area: what it leads to or does, and nothing of what it looks like. */
function ofControl(known: Known): Draft {
  const { input, fileWords, title } = known;
  const { appearance: a, targetTitle, elsewhere, language } = input;
  const control = a.context.control;
  const evidence = known.evidence.filter((e) => e.from === 'title' || e.from === 'elsewhere');
  const led = targetTitle ?? control?.href ?? null;
  if (led) evidence.unshift({ from: 'link target', text: led });
  const of = (text: string, confidence: number, more: DraftEvidence[] = []) =>
    said({ ...known, evidence: [...evidence, ...more], text, confidence });
  if (targetTitle) return of(targetTitle, 0.85);
  if (title) return of(title, 0.75);
  if (elsewhere[0]) return of(elsewhere[0], 0.8);
  // Of a map, the file is all of it; one word names what a button does, several what it looks like.
  const isLink = a.element === 'area' || control?.kind === 'link';
  const named = isLink ? addressWords(control?.href ?? null) : fileWords.includes(' ') ? '' : fileWords;
  if (named) return of(sentence(named), 0.45, control?.kind === 'link' ? [] : [{ from: 'file name', text: fileWords }]);
  const isButton = control?.kind === 'button';
  const id = isButton ? 'question.action' : 'question.target';
  const asked = gap(isButton ? 'does' : 'leads', language);
  const start = a.element === 'area' || fileWords === '' ? null : `${sentence(fileWords)}: ${asked}`;
  return {
    ...NOTHING_SAID,
    evidence: start ? [...evidence, { from: 'file name', text: fileWords }] : evidence,
    text: start,
    missing: { id },
    confidence: start ? 0.2 : 0,
  };
}

/** Names of files and folders that say nothing of what is there (common practice). */
const NAMELESS = /^(?:index|default|home|main|page|node|item|post|article|view|show|start|content|www)$/i;

/** Words of the last part of a link's path that name something: `/fares/day-tickets.html` gives `day tickets`. */
function addressWords(href: string | null): string {
  if (!href || /^(?:javascript|data|mailto|tel):/i.test(href)) return '';
  const path = href.replace(/^[a-z]+:\/\/[^/]*/i, '').replace(/[?#].*$/, '');
  const last = path.split('/').filter(Boolean).at(-1) ?? '';
  let name: string;
  try {
    name = decodeURIComponent(last);
  } catch {
    return '';
  }
  const words = name
    .replace(/\.[a-z]{2,5}$/i, '')
    .split(/[-_+.\s]+/)
    .filter(Boolean);
  const isNamed =
    words.length > 0 && words.every((w) => /^\p{L}{3,}$/u.test(w) || (words.length > 1 && /^\p{L}+$/u.test(w)));
  return isNamed && !NAMELESS.test(words.join(' ')) ? words.join(' ').toLowerCase() : '';
}

/** Letters of a line from which recognition was likely right. */
const READABLE = 3;

/** What is written in it: all of it where that is short. */
function ofText(known: Known): Draft | null {
  const { input, lines } = known;
  const seen = input.picture?.analysis;
  if (!seen || lines.length === 0) return null;
  const whole = lines.join(' ');
  if (!/\p{L}/u.test(whole)) return null;
  if (lengthOf(whole) <= input.limit && recognisedWords(seen) <= MANY_WORDS)
    return said({ ...known, text: whole, confidence: 0.75 });
  const first = lines.find((line) => (line.match(/\p{L}/gu)?.length ?? 0) >= READABLE);
  if (!first) return null;
  return {
    ...asks(known, tidy(first), 'says', 0.5),
    missing: { id: 'question.long-text' },
    // What has many words begins with what it is about, mostly.
    other: { longDescription: withLines('', lines) },
  };
}

/** A chart, a diagram, a map: of what kind it is, of what, and the question that only a person can answer. */
function ofComplex(known: Known): Draft {
  const { input, lines, title, fileWords, shows, heading } = known;
  const seen = input.picture?.analysis ?? null;
  const { kinds } = phrasesFor(input.language);
  const kind = seen?.kind && isSurely(seen, 'chart', 'diagram', 'map') ? (kinds[seen.kind] ?? null) : null;
  // The first line of a drawing is its title where it reads like one, and no label of an axis.
  const headline =
    lines[0] && /^\p{Lu}/u.test(lines[0]) && wordsOf(lines[0]).filter((w) => /\p{L}{3}/u.test(w)).length >= 2
      ? lines[0]
      : null;
  const isCalled = isSpokenOf(fileWords, contextOf(input), input.language);
  const named = [shows, title, headline, heading, isCalled ? sentence(fileWords) : null].find(
    (t) => t && lengthOf(t) <= SHORT,
  );
  const long = recognisedWords(seen) > MANY_WORDS ? { longDescription: withLines('', lines) } : {};
  if (!named && !kind) return { ...ofPicture(known), other: long };
  const saysKind = named && kind && sharesWord(named, kind, input.language);
  const text = named ? (kind && !saysKind ? `${kind}: ${tidy(named)}` : tidy(named)) : kind!;
  return { ...asks(known, text, 'says', named ? 0.55 : 0.3), other: long };
}

/** A picture that shows something. */
function ofPicture(known: Known): Draft {
  const { input, fileWords, shows, heading, title, inFile } = known;
  const { appearance: a, language, things, lookAlike, colours, picture } = input;
  const missing = question(colours, things);
  if (inFile) return { ...said({ ...known, text: inFile, confidence: 0.6 }), missing: { id: 'question.enough' } };
  const caption = a.context.caption ? wordsKey(a.context.caption) : '';
  if (title && wordsKey(title) !== caption && notProse(title) === null)
    return { ...said({ ...known, text: title, confidence: 0.6 }), missing };
  // The caption is heard anyway, so what it says is a beginning; but people wrote it of this picture.
  if (/\p{L}{3}/u.test(shows) && notProse(shows) === null)
    return { ...asks(known, sentence(shows), 'more', 0.45), missing };
  const asHeading = (text: string) => ({ ...said({ ...known, text, confidence: 0.55 }), missing });
  if (heading && fileWords.includes(' ') && saysAll(heading, fileWords, language)) return asHeading(heading);
  const isNamed = !caption && isSpokenOf(fileWords, contextOf(input), language);
  if (isNamed && fileWords.includes(' '))
    return { ...said({ ...known, text: sentence(fileWords), confidence: 0.45 }), missing };
  // The name says what the heading says, and codes beside.
  if (heading && fileWords !== '' && saysAll(fileWords, heading, language)) return asHeading(heading);
  // Windows and charts look alike and show different things.
  const mayAdapt = lookAlike && !isSurely(picture?.analysis, 'screenshot', 'chart', 'diagram', 'map', 'icon', 'poster');
  const like = mayAdapt ? adaptable(lookAlike, language) : null;
  if (like) return asks(known, like, 'differs', 0.4);
  // What is numbered is one of a series that is named, not what is to be seen.
  const isNumbered = /\d/.test(fileNameOf(a.markup.src ?? picture?.src ?? ''));
  if (isNamed && !isNumbered) return { ...asks(known, sentence(fileWords), 'more', 0.35), missing };
  const [thing] = things;
  // Things have names in the language of the interface only.
  if (thing && (language === null || /^en\b/i.test(language)))
    return { ...asks(known, counted(thing), 'more', 0.3), missing };
  return { ...NOTHING_SAID, evidence: known.evidence, missing };
}

/**
 * What the text of a look-alike says of this picture too, perhaps: what it is of, with what it counts asked again. Null for one
 * that names somebody or something, which is another one here, and for what is no prose.
 */
function adaptable(text: string, language: string | null): string | null {
  const clause = tidy(text.split(/[,;:–—(]|\s-\s/u)[0] ?? '');
  if (!/\p{L}{3}/u.test(clause) || /\p{L}\P{L}+\p{Lu}/u.test(clause) || notProse(clause) !== null) return null;
  const joins = languagesFor(language).map((l) => l.functionWords);
  const numbers = new Set(phrasesFor(language).numbers.split(' '));
  const words = clause.split(' ');
  const isJoin = (word: string) => !numbers.has(word.toLowerCase()) && joins.some((j) => j.has(word.toLowerCase()));
  // What follows the first word that joins says where it is and what it does, which differs.
  const start = words.findIndex((w) => !isJoin(w) && !numbers.has(w.toLowerCase()) && /\p{L}{3}/u.test(w));
  const end = words.findIndex((w, i) => i > start && isJoin(w));
  const shown = end < 0 ? words : words.slice(0, end);
  // Without such a word, it is a list, or a sentence with a verb that may not hold here.
  if (start < 0 || (end < 0 && words.length > MOST_ALONE)) return null;
  return shown
    .map((word) => (numbers.has(word.toLowerCase()) || /^\d+$/.test(word) ? gap('many', language) : word))
    .join(' ');
}

/** Words up to which a text without a word that joins is one thing: "A grey seal". */
const MOST_ALONE = 3;

/** Letters from which a word of a file's name says something by itself; shorter ones are parts of codes, mostly. */
const WORD = 4;

/**
 * Whether the page speaks of what a file's name says: it is made of whole words, and half of them at least stand around the
 * picture. What is a code, or is named after something else, is neither.
 */
function isSpokenOf(fileWords: string, context: string, language: string | null): boolean {
  const words = fileWords.split(' ').filter(Boolean);
  const around = saidWords(context, language);
  const isAround = (word: string) => [...saidWords(word, language)].some((stem) => around.has(stem));
  const joins = languagesFor(language).map((l) => l.functionWords);
  const isWhole = (word: string) =>
    /^\p{L}+$/u.test(word) && (word.length >= WORD || joins.some((j) => j.has(word)) || isAround(word));
  if (words.length === 0 || !words.every(isWhole)) return false;
  const telling = words.filter((w) => w.length >= WORD);
  return telling.length > 0 && telling.filter(isAround).length * 2 >= telling.length;
}

const counted = ({ name, count }: { name: string; count: number }) =>
  count === 1 ? sentence(name) : `${count} × ${name}`;

const contextOf = ({ appearance: a }: DraftInput): string =>
  [a.context.headings.at(-1), a.context.caption, a.context.before, a.context.after, a.markup.title].join(' ');

/** A text that stands as it is. */
function said({
  input,
  evidence,
  text,
  confidence,
}: Pick<Known, 'input' | 'evidence'> & { text: string; confidence: number }): Draft {
  return { ...NOTHING_SAID, text: fitLength(tidy(text), input.limit, input.language), evidence, confidence };
}

/** A text with a gap behind it, within the limit together. */
function asks(known: Known, text: string, asked: Parameters<typeof gap>[0], confidence: number): Draft {
  const { limit } = known.input;
  // A page that does not say its language is asked about in that of the text.
  const language = known.input.language ?? recognise(text)?.language ?? null;
  const question = gap(asked, language);
  const room = limit - lengthOf(question) - 2;
  const start = fitLength(tidy(text), Math.max(10, room), language);
  return { ...NOTHING_SAID, text: `${start}, ${question}`, evidence: known.evidence, confidence };
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
