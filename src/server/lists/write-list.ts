import { z } from 'zod';
import { COLUMNS, csvLine, type ListRow } from '@/core/lists/list-table';
import { writeWorkbook, type WorkbookWords } from './workbook';

export const ListFormat = z.enum(['csv', 'xlsx', 'json']);
export type ListFormat = z.infer<typeof ListFormat>;

export const MEDIA_TYPES: Record<ListFormat, string> = {
  csv: 'text/csv; charset=utf-8',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  json: 'application/json; charset=utf-8',
};

/** A row with the picture that a workbook shows beside it: PNG or JPEG. */
export interface ShownRow extends ListRow {
  thumb?: Uint8Array | null;
}

/**
 * Rows as a file.
 *
 * @param words of the workbook, in the reader's language
 */
export async function writeList(
  rows: AsyncIterable<readonly ShownRow[]>,
  format: ListFormat,
  words: WorkbookWords,
): Promise<Uint8Array> {
  if (format === 'xlsx') return writeWorkbook(rows, words);
  const encoder = new TextEncoder();
  if (format === 'json') {
    const all: ListRow[] = [];
    for await (const some of rows) all.push(...some.map(({ thumb: _, ...row }) => row));
    return encoder.encode(`${JSON.stringify(all, null, 1)}\n`);
  }
  // With a byte order mark, spreadsheets read it as UTF-8.
  const lines = [`\ufeff${csvLine(COLUMNS.map(([, name]) => name))}`];
  for await (const some of rows) for (const row of some) lines.push(csvLine(COLUMNS.map(([key]) => row[key])));
  return encoder.encode(lines.join(''));
}
