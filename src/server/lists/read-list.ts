import { z } from 'zod';
import { refuseOtherWorkbook } from '../intake/address-table';
import { cellText, COLUMNS, type ListRow } from './list-table';

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
}

/** A table that is none of Detto's lists, or none at all. */
export class ListError extends Error {
  readonly code = 'unreadable-list';
}

/** Rows that a list may have. */
const MOST_ROWS = 500_000;

const Json = z.array(z.record(z.string(), z.unknown()));

/**
 * Reads a list that was made here and edited elsewhere: CSV, XLSX or JSON, whichever it is by its first bytes. Columns may
 * have moved, others may have been added.
 *
 * @throws ListError in words when it is none, or has no column with new texts
 */
export async function readList(bytes: Buffer): Promise<ReadRow[]> {
  if (bytes.subarray(0, 2).toString('latin1') === 'PK') return fromTable(await sheetOf(bytes));
  const text = decoded(bytes);
  if (/^\s*\[/.test(text)) return fromJson(text);
  const { parseCsv } = await import('hucre/csv');
  return fromTable(parseCsv(text, { typeInference: false }) as unknown[][]);
}

function decoded(bytes: Buffer): string {
  const isUtf16 = bytes[0] === 0xff && bytes[1] === 0xfe;
  return new TextDecoder(isUtf16 ? 'utf-16le' : 'utf-8').decode(bytes).replace(/^\ufeff/, '');
}

async function sheetOf(bytes: Buffer): Promise<unknown[][]> {
  await refuseOtherWorkbook(bytes);
  const { readXlsx } = await import('hucre/xlsx');
  const { sheets } = await readXlsx(bytes).catch(() => {
    throw new ListError('This workbook is damaged: it cannot be read to its end.');
  });
  return sheets[0]?.rows ?? [];
}

function fromJson(text: string): ReadRow[] {
  let rows: z.infer<typeof Json>;
  try {
    rows = Json.parse(JSON.parse(text));
  } catch {
    throw new ListError('This is not a list: its JSON is not an array of rows.');
  }
  if (!rows.some((r) => 'newAlt' in r)) throw withoutNewTexts();
  const own = (value: unknown) => (value === undefined || value === null ? '' : String(value));
  return rows.map((r, i) => ({
    row: i + 1,
    appearance: idIn(r['appearance']),
    page: own(r['page']),
    picture: own(r['picture']),
    alt: r['alt'] === undefined ? null : own(r['alt']),
    newAlt: own(r['newAlt']),
  }));
}

function fromTable(table: unknown[][]): ReadRow[] {
  const [head = [], ...rows] = table;
  if (rows.length > MOST_ROWS) throw new ListError(`The list has more than ${MOST_ROWS} rows.`);
  const at = (key: keyof ListRow): number => {
    const name = COLUMNS.find(([k]) => k === key)![1].toLowerCase();
    return head.findIndex((cell) =>
      [name, key.toLowerCase()].includes(
        String(cell ?? '')
          .trim()
          .toLowerCase(),
      ),
    );
  };
  const column = {
    appearance: at('appearance'),
    page: at('page'),
    picture: at('picture'),
    alt: at('alt'),
    newAlt: at('newAlt'),
  };
  if (column.newAlt < 0) throw withoutNewTexts();
  const cell = (row: unknown[], index: number): string =>
    index < 0 || row[index] === null || row[index] === undefined ? '' : cellText(String(row[index]));
  return rows
    .map((row, i) => ({
      row: i + 2,
      appearance: idIn(row[column.appearance]),
      page: cell(row, column.page).trim(),
      picture: cell(row, column.picture).trim(),
      alt: column.alt < 0 ? null : cell(row, column.alt),
      newAlt: cell(row, column.newAlt).trim(),
    }))
    .filter((r) => r.newAlt !== '' || r.appearance !== null || r.page !== '');
}

const withoutNewTexts = () =>
  new ListError(
    'There is no column “New alt text” in this table. Download a list from the Galley, and fill in that column.',
  );

function idIn(value: unknown): number | null {
  const id = Number(value);
  return value !== null && value !== '' && Number.isSafeInteger(id) && id > 0 ? id : null;
}
