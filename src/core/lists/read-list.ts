import { z } from 'zod';
import { cellText, COLUMNS, type ListRow } from './list-table';
import { decodeTable, encodingOf, isGarbled, ListError, ownText, readTable, TABLE_LIMITS } from './table-file';

/** What is read of a row that comes back. */
export interface ReadRow {
  /** In the file: the first row under the names of the columns is 2. */
  row: number;
  appearance: number | null;
  page: string;
  picture: string;
  /** The text that the list was made with; null where it has no such column. */
  alt: string | null;
  newAlt: string;
  /** The row is for a picture: its text is for all places that say the same. */
  isForPicture: boolean;
  /** The new text stood in the column of the present one. */
  isFromAlt?: true;
  /** Why its texts cannot be taken as they are; absent where they can. */
  fault?: 'garbled' | 'control-characters' | 'too-long';
}

/** A list as it was read. */
export interface ReadList {
  rows: ReadRow[];
  /** Of a text, by its name in the Encoding Standard; null of a workbook. */
  encoding: string | null;
}

export interface ReadListOptions {
  /** Of a text, where a person has chosen it. */
  encoding?: string;
  /** The new texts stand in the column of the present ones. */
  isAltNew?: boolean;
}

/** Characters of an alt text; a longer one was made to be in the way. */
const LONGEST = 100_000;
/** Control characters other than tab and line breaks (Unicode, category Cc). */

const CONTROL = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f]/;

const Json = z.array(z.record(z.string(), z.unknown()));

/**
 * Reads a list that was made here and edited elsewhere: CSV, XLSX or JSON, whichever it is by its first bytes. Columns may
 * have moved, others may have been added.
 *
 * @throws ListError when it is none, or has no column with new texts
 */
export async function readList(bytes: Buffer, { encoding, isAltNew = false }: ReadListOptions = {}): Promise<ReadList> {
  const table = isJson(bytes) ? null : await readTable(bytes, encoding);
  const rows = table ? fromTable(table.rows) : fromJson(decodeTable(bytes, encodingOf(bytes)));
  return {
    rows: isAltNew
      ? rows.map((r) => ({ ...r, newAlt: r.newAlt || (r.alt ?? '').trim(), alt: null, isFromAlt: true }))
      : rows,
    encoding: table?.encoding ?? null,
  };
}

const isJson = (bytes: Buffer) => /^(?:\ufeff|\u00ef\u00bb\u00bf)?\s*\[/.test(bytes.subarray(0, 64).toString('latin1'));

function fromJson(text: string): ReadRow[] {
  let rows: z.infer<typeof Json>;
  try {
    rows = Json.parse(JSON.parse(text));
  } catch {
    throw new ListError({ id: 'list.json' });
  }
  if (rows.length > TABLE_LIMITS.rows) throw new ListError({ id: 'list.rows', values: { limit: TABLE_LIMITS.rows } });
  if (!rows.some((r) => 'newAlt' in r)) throw withoutNewTexts();
  return rows.map((r, i) =>
    readRow(i + 1, (key) => (r[key] === undefined ? null : r[key] === null ? '' : String(r[key]))),
  );
}

function fromTable([head = [], ...rows]: string[][]): ReadRow[] {
  const names = head.map((cell) => cell.trim().toLowerCase());
  const at = new Map(
    COLUMNS.map(([key, name]) => [key, names.findIndex((n) => n === name.toLowerCase() || n === key.toLowerCase())]),
  );
  if (at.get('newAlt')! < 0) throw withoutNewTexts();
  return rows
    .map((row, i) => readRow(i + 2, (key) => (at.get(key)! < 0 ? null : cellText(row[at.get(key)!] ?? ''))))
    .filter((r) => r.newAlt !== '' || r.appearance !== null || r.page !== '');
}

/** @param cell the text of a row's cell; null where the list has no such column */
function readRow(row: number, cell: (key: keyof ListRow) => string | null): ReadRow {
  const own = (key: keyof ListRow) => ownText(cell(key) ?? '').trim();
  const [alt, newAlt] = [cell('alt'), cell('newAlt') ?? ''];
  const fault = faultOf(newAlt, alt ?? '', cell('page') ?? '', cell('picture') ?? '');
  return {
    row,
    appearance: idIn(own('appearance')),
    page: own('page'),
    picture: own('picture'),
    alt: alt === null ? null : ownText(alt),
    newAlt: ownText(newAlt).trim(),
    isForPicture: /^\d+$/.test(own('places')),
    ...(fault ? { fault } : {}),
  };
}

function faultOf(newAlt: string, ...others: string[]): ReadRow['fault'] {
  if ([newAlt, ...others].some(isGarbled)) return 'garbled';
  if (CONTROL.test(newAlt)) return 'control-characters';
  return newAlt.length > LONGEST ? 'too-long' : undefined;
}

const withoutNewTexts = () => new ListError({ id: 'list.no-new-texts', values: { column: 'New alt text' } });

function idIn(value: string): number | null {
  const id = Number(value);
  return value !== '' && Number.isSafeInteger(id) && id > 0 && id < 2 ** 31 ? id : null;
}
