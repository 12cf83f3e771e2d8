/** A rectangle in shares of the picture's width and height, from 0 to 1. */
export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

export interface TextWord {
  text: string;
  /** From 0 to 1. */
  sure: number;
  box: Box;
}

export interface TextLine {
  text: string;
  sure: number;
  box: Box;
  words: TextWord[];
}

/** A thing in the picture. */
export interface Thing {
  /** The word for it: the thing itself where both detectors are sure, else what it is a kind of. */
  name: string;
  sure: number;
  box: Box;
}

/** What was found by reading a picture; boxes are shares, so that they fit it at any size. */
export interface Recognition {
  /** What it was read in, as primary language subtags. */
  languages: string[];
  /** In reading order; all that was recognised, sure or not. */
  lines: TextLine[];
  things: Thing[];
  /** Faces, counted and nothing else; null where they were not looked for. */
  faces: number | null;
}

/** From here on a recognised word counts; in a photo more is asked for, because texture looks like letters. */
export const SURE_WORD = 0.6;
export const SURE_WORD_IN_PHOTO = 0.8;

/** Letters or digits that make a word of what was recognised. */
const SPELT = /[\p{L}\p{N}]{2}|^[\p{L}\p{N}]$|^[&+]$/u;

/** Letters of straight strokes, as which zigzags, arrows and grids are read: “VAVAN”. */
const STROKES = /^[VAWMNXZ|/\\]{4,}$/;
/** Different ones of them in one such word. */
const STROKE_LETTERS = 3;
/** Times that a word may be as high as those beside it, or as low, and still be of one line. */
const UNEVEN = 2.5;

const median = (values: readonly number[]) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? 0;

/** Words from which a line may be a pattern. */
const PATTERN = 4;

/** Lines of the words that count; lines of which nothing counts are left out. */
export function countingLines(lines: readonly TextLine[], photo: boolean): TextLine[] {
  const least = photo ? SURE_WORD_IN_PHOTO : SURE_WORD;
  return lines.flatMap((line) => {
    const height = median(line.words.map((w) => w.box.height));
    const isEven = ({ box }: TextWord) => box.height <= UNEVEN * height && box.height * UNEVEN >= height;
    const words = line.words.filter((w) => w.sure >= least && SPELT.test(w.text) && isEven(w));
    if (words.length > 0 && words.every((w) => STROKES.test(w.text) && new Set(w.text).size <= STROKE_LETTERS))
      return [];
    // A pattern reads as one syllable again and again.
    const different = new Set(words.map((w) => w.text.toLowerCase().slice(0, 2))).size;
    if (words.length >= PATTERN && different <= words.length * 0.4) return [];
    // Nor does anybody write two words or more of one or two letters each: icons and zigzags read like that.
    if (words.length > 1 && words.every((w) => /^\p{L}{1,2}$/u.test(w.text))) return [];
    // One letter alone is mostly a line or a corner.
    if (!words.some((w) => /[\p{L}\p{N}]{2}/u.test(w.text))) return [];
    return [{ ...line, words, text: words.map((w) => w.text).join(' '), box: around(words.map((w) => w.box)) }];
  });
}

/** The smallest box that holds all of some. */
function around(boxes: readonly Box[]): Box {
  const x = Math.min(...boxes.map((b) => b.x));
  const y = Math.min(...boxes.map((b) => b.y));
  return {
    x,
    y,
    width: Math.max(...boxes.map((b) => b.x + b.width)) - x,
    height: Math.max(...boxes.map((b) => b.y + b.height)) - y,
  };
}

/** Recognised text, line by line; empty where there is none. */
export const textOf = (lines: readonly TextLine[], photo: boolean): string =>
  countingLines(lines, photo)
    .map((l) => l.text)
    .join('\n');

/** Share of the picture that recognised text covers. */
export function textShareOf(lines: readonly TextLine[], photo: boolean): number {
  return Math.min(
    1,
    countingLines(lines, photo).reduce(
      (sum, l) => sum + l.words.reduce((s, w) => s + w.box.width * w.box.height, 0),
      0,
    ),
  );
}
