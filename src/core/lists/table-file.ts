import { isUtf8 } from 'node:buffer';
import { TextDecoder, normalizeEncoding } from '@exodus/bytes/encoding.js';
import { analyse } from 'chardet';
import type { Cell, CellValue } from 'hucre';
import Papa from 'papaparse';
import { UserError } from '../model/user-error';
import { weightOf } from '../model/message';
import { ZipFile } from '../formats/zip/zip-file';

/** What a table may hold. */
export const TABLE_LIMITS = { rows: 500_000, columns: 500, cells: 6_000_000, unpacked: 64 * 1024 * 1024 };

/** A file that is no table, or holds more than one may. */
export class ListError extends UserError {
  static override readonly code = 'unreadable-list';
}

/** A table as texts, row by row, the names of its columns in the first. */
export interface TableFile {
  rows: string[][];
  /** Where its hyperlinks lead; empty of a text. */
  links: string[];
  /** By its name in the Encoding Standard; null of a workbook, which says itself how it is encoded. */
  encoding: string | null;
  /** What parts its cells; null of a workbook. */
  separator: string | null;
}

/** Stands for a U+FFFD that the file itself holds, so that it is not taken for a byte that could not be decoded; a noncharacter (Unicode 23.7). */
const OWN_REPLACEMENT = '\ufdd0';
const REPLACEMENT = '\ufffd';

/** Whether a cell holds what its encoding could not decode. */
export const isGarbled = (cell: string): boolean => cell.includes(REPLACEMENT);

/** The text of a cell as the file has it. */
export const ownText = (cell: string): string => cell.replaceAll(OWN_REPLACEMENT, REPLACEMENT);

const isZip = (bytes: Buffer) => bytes.subarray(0, 2).toString('latin1') === 'PK';
/** The container of older workbooks, and of those with a password (MS-CFB 2.2). */
const isCompound = (bytes: Buffer) => bytes.readUIntBE(0, 4) === 0xd0cf11e0;

/**
 * Reads a table: a workbook (XLSX) by its first bytes, else text whose cells are parted by commas, semicolons, tabs or bars.
 *
 * @param encoding of a text, where a person has chosen it; else {@link encodingOf} says it
 * @throws ListError when it is damaged, or holds more than {@link TABLE_LIMITS}
 */
export async function readTable(bytes: Buffer, encoding?: string): Promise<TableFile> {
  if (isZip(bytes)) return readWorkbook(bytes);
  if (bytes.length >= 4 && isCompound(bytes)) throw new ListError({ id: 'list.old-workbook' });
  const chosen = encoding === undefined ? encodingOf(bytes) : normalizeEncoding(encoding);
  if (chosen === null) throw new ListError({ id: 'list.encoding', values: { encoding: encoding! } });
  const text = decodeTable(bytes, chosen);
  const separator = separatorOf(text);
  return { rows: parseText(text, separator), links: [], encoding: chosen, separator };
}

/**
 * The encoding of a text: by its byte order mark, else UTF-8 where the bytes are valid, else what a detector makes of them.
 * Detectors take short texts of western Europe for its rarer encodings, so windows-1252 goes before what is not likelier.
 *
 * @returns its name in the Encoding Standard
 */
export function encodingOf(bytes: Buffer): string {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le';
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be';
  if (isUtf8(bytes)) return 'utf-8';
  const foreign = foreignWords(bytes.subarray(0, 1024 * 1024));
  // Letters of an alphabet other than the Latin one are all beyond ASCII; what the table says in English only misleads.
  const isOtherAlphabet = foreign.length > 0 && shareBeyondAscii(foreign) > OTHER_ALPHABET;
  const matches = analyse(isOtherAlphabet ? foreign : bytes.subarray(0, 1024 * 1024));
  const named = () => matches.map((m) => normalizeEncoding(m.name)).find((name) => name !== null) ?? 'windows-1252';
  if (isOtherAlphabet) return named();
  const likeliest = matches[0]?.confidence ?? 0;
  const western = matches.find((m) => /^(?:iso-8859-1|windows-1252)$/i.test(m.name));
  if (western && western.confidence >= likeliest * 0.6) return 'windows-1252';
  return named();
}

/** Share of the bytes of words with any beyond ASCII, from which these are of another alphabet. */
const OTHER_ALPHABET = 0.7;

/** The words of a text that have bytes beyond ASCII, a space after each. */
function foreignWords(bytes: Buffer): Buffer {
  const words = bytes.toString('latin1').match(/[A-Za-z\x80-\xff]+/g) ?? [];
  const foreign = words.filter((word) => /[\x80-\xff]/.test(word));
  return Buffer.from(foreign.map((word) => `${word} `).join(''), 'latin1');
}

const shareBeyondAscii = (bytes: Buffer): number => {
  const letters = bytes.filter((byte) => byte !== 0x20);
  return letters.filter((byte) => byte >= 0x80).length / letters.length;
};

/** Decodes the text of a table; a replacement character in it stands for a byte that the encoding does not have. */
export function decodeTable(bytes: Buffer, encoding: string): string {
  const own = encoding === 'utf-8' ? Buffer.from(bytes) : bytes;
  if (encoding === 'utf-8')
    for (let at = own.indexOf(REPLACEMENT); at >= 0; at = own.indexOf(REPLACEMENT, at + 3))
      own.write(OWN_REPLACEMENT, at);
  return new TextDecoder(encoding).decode(own);
}

const SEPARATORS = [',', ';', '\t', '|'];

/** What parts the cells of the first line that holds anything: what it holds most of, outside quotation marks. */
function separatorOf(text: string): string {
  const line =
    /^\s*(?:"(?:[^"]|"")*"|[^"\r\n])*/.exec(text.slice(0, 100_000))?.[0].replace(/"(?:[^"]|"")*"/g, '') ?? '';
  const count = (separator: string) => line.split(separator).length;
  return SEPARATORS.reduce((best, separator) => (count(separator) > count(best) ? separator : best));
}

function parseText(text: string, delimiter: string): string[][] {
  let cells = 0;
  let widest = 0;
  const { data, errors } = Papa.parse<string[]>(text, {
    delimiter,
    skipEmptyLines: true,
    // One more than may be, so that it is seen.
    preview: TABLE_LIMITS.rows + 10,
  });
  const open = errors.find((e) => e.type === 'Quotes');
  if (open) throw new ListError({ id: 'list.open-quote', values: { line: (open.row ?? 0) + 1 } });
  for (const row of data) {
    cells += row.length;
    widest = Math.max(widest, row.length);
  }
  refuseLarge(data.length - 1, widest, cells);
  return data;
}

function refuseLarge(rows: number, columns: number, cells: number): void {
  if (rows > TABLE_LIMITS.rows) throw new ListError({ id: 'list.rows', values: { limit: TABLE_LIMITS.rows } });
  if (columns > TABLE_LIMITS.columns)
    throw new ListError({ id: 'list.columns', values: { limit: TABLE_LIMITS.columns } });
  if (cells > TABLE_LIMITS.cells) throw new ListError({ id: 'list.cells', values: { limit: TABLE_LIMITS.cells } });
}

async function readWorkbook(bytes: Buffer): Promise<TableFile> {
  const zip = await ZipFile.open(bytes).catch(() => {
    throw new ListError({ id: 'list.damaged' });
  });
  const sheets = zip.names.filter((name) => /^xl\/worksheets\/.+\.xml$/.test(name));
  if (sheets.length === 0) throw new ListError({ id: 'list.no-workbook' });
  const sizes = zip.names.reduce((sum, name) => sum + zip.sizeOf(name), 0);
  if (sizes > TABLE_LIMITS.unpacked)
    throw new ListError({ id: 'list.unpacked', values: { limit: weightOf(TABLE_LIMITS.unpacked) } });
  for (const sheet of sheets) refuseWide(zip.read(sheet));
  const { readXlsx } = await import('hucre/xlsx');
  const book = await readXlsx(bytes).catch(() => {
    throw new ListError({ id: 'list.damaged' });
  });
  const [first] = book.sheets;
  const rows = (first?.rows ?? []).map((row) => row.map(asText));
  const links = book.sheets.flatMap((s) =>
    [...((s.cells?.values() ?? []) as Iterable<Partial<Cell>>)].flatMap((c) => c.hyperlink?.target ?? []),
  );
  // The other sheets matter only to what looks for addresses anywhere.
  const others = book.sheets.slice(1).flatMap((s) => s.rows.map((row) => row.map(asText)));
  return { rows, links: [...links, ...others.flat()], encoding: null, separator: null };
}

/** Refuses a sheet by the addresses of its cells, since one far away makes a row as wide as that. */
function refuseWide(xml: Buffer): void {
  const text = xml.toString('latin1');
  let cells = 0;
  for (const [, column, row] of text.matchAll(/<(?:\w+:)?c\s[^>]*?r="([A-Z]{1,3})(\d{1,7})"/g)) {
    const width = [...column!].reduce((sum, letter) => sum * 26 + letter.charCodeAt(0) - 64, 0);
    refuseLarge(Number(row), width, ++cells);
  }
}

const asText = (value: CellValue): string =>
  value === null || value === undefined ? '' : value instanceof Date ? value.toISOString() : String(value);
