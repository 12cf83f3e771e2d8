import { SaxesParser } from 'saxes';
import { ZipTree } from '../survey/zip-tree';

const MOST_BYTES = 50 * 1024 * 1024;

/** The web addresses in a text or a table, each once, in order. */
export function addressesIn(text: string): string[] {
  const found = text.match(/https?:\/\/[^\s"'<>,;]+/g) ?? [];
  return [...new Set(found.filter((a) => URL.canParse(a)).map((a) => new URL(a).href))];
}

/**
 * The same for a file: a workbook (XLSX: the texts of its cells, then where its links lead; ECMA-376 Part 1, 18.4
 * and 18.3.1.47), else text of any kind (CSV, a plain list).
 *
 * @throws Error in words when it is a workbook that cannot be read
 */
export async function addressesInFile(bytes: Buffer): Promise<string[]> {
  if (bytes.subarray(0, 2).toString('latin1') !== 'PK') return addressesIn(bytes.toString('utf8'));
  const zip = await ZipTree.open(bytes);
  try {
    const { files } = await zip.list();
    const parts = files
      .map((f) => f.path)
      .filter((p) => /^xl\/(?:sharedStrings\.xml|worksheets\/.+\.(?:xml|rels))$/.test(p));
    if (parts.length === 0) throw new Error('This is no workbook (XLSX): there are no sheets in it.');
    // Texts come before the links that some of them carry.
    parts.sort((a, b) => Number(a.endsWith('.rels')) - Number(b.endsWith('.rels')));
    const texts: string[] = [];
    for (const part of parts) texts.push(...textsOf((await zip.read(part, MOST_BYTES)).toString('utf8')));
    return addressesIn(texts.join('\n'));
  } finally {
    await zip.close();
  }
}

/** Texts of a part, a cell's runs together, and the targets of its links. */
function textsOf(xml: string): string[] {
  const out: string[] = [];
  let text = '';
  const parser = new SaxesParser();
  parser.on('opentag', ({ name, attributes }) => {
    if (/(?:^|:)(?:si|is)$/.test(name)) text = '';
    if (/(?:^|:)Relationship$/.test(name)) out.push(String(attributes['Target'] ?? ''));
  });
  parser.on('text', (value) => (text += value));
  parser.on('closetag', ({ name }) => {
    if (!/(?:^|:)(?:si|is|v)$/.test(name)) return;
    out.push(text);
    text = '';
  });
  parser.write(xml).close();
  return out;
}
