import { z } from 'zod';
import { csvLine } from '../http/csv';

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

export const ListFormat = z.enum(['csv', 'xlsx', 'json']);
export type ListFormat = z.infer<typeof ListFormat>;

export const MEDIA_TYPES: Record<ListFormat, string> = {
  csv: 'text/csv; charset=utf-8',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  json: 'application/json; charset=utf-8',
};

/** What a spreadsheet would take for a formula (OWASP, CSV injection); such cells get an apostrophe in front. */
const FORMULA = /^\s*[=+\-@\t\r＝＋－＠]/;
const neutral = (value: string): string => (FORMULA.test(value) ? `'${value}` : value);

/** The text of a cell without the apostrophe that {@link writeList} puts in front of formulas. */
export const cellText = (value: string): string =>
  value.startsWith("'") && FORMULA.test(value.slice(1)) ? value.slice(1) : value;

/** Rows as a file, piece by piece where the format has pieces. */
export async function writeList(rows: AsyncIterable<readonly ListRow[]>, format: ListFormat): Promise<Uint8Array> {
  const encoder = new TextEncoder();
  if (format === 'json') {
    const all: ListRow[] = [];
    for await (const some of rows) all.push(...some);
    return encoder.encode(`${JSON.stringify(all, null, 1)}\n`);
  }
  const names = COLUMNS.map(([, name]) => name);
  if (format === 'csv') {
    // With a byte order mark, spreadsheets read it as UTF-8.
    const lines = [`\ufeff${csvLine(names)}`];
    for await (const some of rows) for (const row of some) lines.push(csvLine(COLUMNS.map(([key]) => row[key])));
    return encoder.encode(lines.join(''));
  }
  const { writeXlsx } = await import('hucre/xlsx');
  const cells: (string | number | null)[][] = [names];
  for await (const some of rows)
    for (const row of some)
      cells.push(
        COLUMNS.map(([key]) => {
          const value = row[key];
          return typeof value === 'string' ? neutral(value) : value;
        }),
      );
  return writeXlsx({ sheets: [{ name: 'Alt texts', rows: cells }] });
}
