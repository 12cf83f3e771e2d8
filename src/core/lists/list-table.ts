/**
 * One row of a list: a picture, with the appearance that stands for it, or one appearance. The keys are the columns; in
 * CSV and XLSX they stand under the names of {@link COLUMNS}.
 */
export interface ListRow {
  /** Id of the appearance in its collection; null in a list that was made without one. */
  appearance: number | null;
  /** Address or path of the page. */
  page: string;
  pageTitle: string;
  line: number | null;
  /** Address or path of the picture; null for what has no file. */
  picture: string | null;
  state: string;
  /** What is heard now; empty for decorative pictures and for missing alt text, which `state` tells apart. */
  alt: string;
  /** What it is to be; empty where nothing changes. {@link DECORATIVE} marks the picture decorative. */
  newAlt: string;
  /** Of a row for a picture, its places that say what the row shows: all of them get the new text. Null in a row for an appearance. */
  places: number | null;
  title: string;
  caption: string;
  purpose: string;
  /** In words, one after the other. */
  findings: string;
  /** Who or what wrote what is heard: the page, a person, or a drafter with its model and prompt; empty where nothing is heard. */
  writtenBy: string;
  /** Pages that the picture stands on. */
  uses: number;
  width: number | null;
  height: number | null;
  /** Bytes of the file. */
  bytes: number | null;
}

/** Columns in order, by what people call them; the reading of a list takes the keys as well. */
export const COLUMNS: readonly (readonly [keyof ListRow, string])[] = [
  ['appearance', 'Appearance'],
  ['page', 'Page'],
  ['pageTitle', 'Page title'],
  ['line', 'Line'],
  ['picture', 'Picture'],
  ['state', 'State'],
  ['alt', 'Alt text'],
  ['newAlt', 'New alt text'],
  ['places', 'Places'],
  ['title', 'Title'],
  ['caption', 'Caption'],
  ['purpose', 'Purpose'],
  ['findings', 'Findings'],
  ['writtenBy', 'Written by'],
  ['uses', 'Uses'],
  ['width', 'Width'],
  ['height', 'Height'],
  ['bytes', 'Bytes'],
];

/** In the column of new texts, what marks a picture decorative; an empty cell changes nothing. */
export const DECORATIVE = '(decorative)';

/**
 * Where a spreadsheet would begin to read a formula (OWASP, CSV injection): at the start of a cell, and behind a semicolon,
 * a tab or a line break in it, which part cells where the decimal sign is a comma, quotation marks or not. Apostrophes in
 * front are counted in, so that one more can be removed again.
 */
const AT_START = /^(?:[\s']*[=+\-@＝＋－＠]|[\t\r])/;
const INSIDE = /([;\r\n\t][^\S\r\n]*'*)(?=[=+\-@＝＋－＠])/g;
const NEUTRAL_INSIDE = /([;\r\n\t][^\S\r\n]*'*)'(?=[=+\-@＝＋－＠])/g;

/** The text of a cell with an apostrophe in front of all that a spreadsheet would take for a formula. */
export function neutralCell(value: string): string {
  const text = value.replace(INSIDE, "$1'");
  return AT_START.test(text) ? `'${text}` : text;
}

/** The text of a cell without the apostrophes of {@link neutralCell}. */
export function cellText(value: string): string {
  const text = value.startsWith("'") && AT_START.test(value.slice(1)) ? value.slice(1) : value;
  return text.replace(NEUTRAL_INSIDE, '$1');
}

/** One line of a table (RFC 4180), in which no cell computes anything, so that an address or a text from a hostile page is harmless. */
export function csvLine(cells: readonly (string | number | null)[]): string {
  return `${cells.map(csvCell).join(',')}\r\n`;
}

function csvCell(value: string | number | null): string {
  if (value === null) return '';
  const text = typeof value === 'string' ? neutralCell(value) : String(value);
  return /[",;\t\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}
