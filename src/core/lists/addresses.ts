import { readTable } from './table-file';

/** The web addresses in a text or a table, each once, in order. */
export function addressesIn(text: string): string[] {
  const found = text.match(/https?:\/\/[^\s"'<>,;]+/g) ?? [];
  return [...new Set(found.filter((a) => URL.canParse(a)).map((a) => new URL(a).href))];
}

/**
 * The same for a file: a workbook (XLSX: the texts of its cells, and where their links lead), else text of any kind (CSV,
 * a plain list).
 *
 * @throws ListError when it is a workbook that cannot be read
 */
export async function addressesInFile(bytes: Buffer): Promise<string[]> {
  if (bytes.subarray(0, 2).toString('latin1') !== 'PK') return addressesIn(bytes.toString('utf8'));
  const { rows, links } = await readTable(bytes);
  return addressesIn([...rows.flat(), ...links].join('\n'));
}
