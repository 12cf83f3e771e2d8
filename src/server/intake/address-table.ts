import type { Cell, CellValue } from 'hucre';
import { megabytes } from '../survey/source';
import { ZipTree } from '../survey/zip-tree';

/** Bytes that a workbook may have when it is unpacked; the reader takes all of it into memory. */
const MOST_BYTES = 50 * 1024 * 1024;

/** The web addresses in a text or a table, each once, in order. */
export function addressesIn(text: string): string[] {
  const found = text.match(/https?:\/\/[^\s"'<>,;]+/g) ?? [];
  return [...new Set(found.filter((a) => URL.canParse(a)).map((a) => new URL(a).href))];
}

/**
 * The same for a file: a workbook (XLSX: the texts of its cells, and where their links lead), else text of any kind (CSV,
 * a plain list).
 *
 * @throws Error in words when it is a workbook that cannot be read
 */
export async function addressesInFile(bytes: Buffer): Promise<string[]> {
  if (bytes.subarray(0, 2).toString('latin1') !== 'PK') return addressesIn(bytes.toString('utf8'));
  await refuseOtherWorkbook(bytes);
  const { readXlsx } = await import('hucre/xlsx');
  const { sheets } = await readXlsx(bytes).catch(() => {
    throw new Error('This workbook is damaged: it cannot be read to its end.');
  });
  const texts: CellValue[] = [];
  const links: string[] = [];
  for (const { rows, cells } of sheets) {
    for (const row of rows) texts.push(...row);
    for (const { hyperlink } of (cells?.values() ?? []) as Iterable<Partial<Cell>>)
      if (hyperlink) links.push(hyperlink.target);
  }
  return addressesIn([...texts, ...links].join('\n'));
}

/**
 * Refuses what is no workbook, or is dangerous to unpack, before a library unpacks it.
 *
 * @throws Error in words
 */
export async function refuseOtherWorkbook(bytes: Buffer): Promise<void> {
  const zip = await ZipTree.open(bytes);
  try {
    const { files } = await zip.list();
    if (!files.some((f) => /^xl\/worksheets\/.+\.xml$/.test(f.path)))
      throw new Error('This is no workbook (XLSX): there are no sheets in it.');
    if (files.reduce((sum, f) => sum + f.size, 0) > MOST_BYTES)
      throw new Error(`Unpacked, the workbook is over the limit of ${megabytes(MOST_BYTES)}.`);
  } finally {
    await zip.close();
  }
}
