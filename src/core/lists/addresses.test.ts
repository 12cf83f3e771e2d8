import yazl from 'yazl';
import { addressesIn, addressesInFile } from './addresses';

/** Texts are deflated, bytes are stored. */
function zipped(files: Record<string, string | Buffer>): Promise<Buffer> {
  const zip = new yazl.ZipFile();
  for (const [name, content] of Object.entries(files))
    zip.addBuffer(Buffer.from(content), name, { compress: typeof content === 'string' });
  zip.end();
  const parts: Buffer[] = [];
  return new Promise((resolve) =>
    zip.outputStream.on('data', (part: Buffer) => parts.push(part)).on('end', () => resolve(Buffer.concat(parts))),
  );
}

test('addresses of any text, each once, in order', () =>
  expect(
    addressesIn(
      'page;address\n"Fares",https://skerry.example/fares\nhttps://skerry.example/\nhttps://skerry.example/fares',
    ),
  ).toEqual(['https://skerry.example/fares', 'https://skerry.example/']));

const RELATIONSHIPS = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const MAIN = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main';
const PACKAGE = 'http://schemas.openxmlformats.org/package/2006';
const TYPE = 'application/vnd.openxmlformats-officedocument.spreadsheetml';
const link = (id: string, kind: string, target: string, mode = '') =>
  `<Relationship Id="${id}" Type="${RELATIONSHIPS}/${kind}" Target="${target}"${mode}/>`;
const links = (...all: string[]) => `<Relationships xmlns="${PACKAGE}/relationships">${all.join('')}</Relationships>`;

/** The parts of a workbook as ECMA-376 has them (Part 2, 9 and 10; Part 1, 18.2, 18.3.1 and 18.4.8), by hand. */
const PARTS = (cells: string) => ({
  '[Content_Types].xml': `<Types xmlns="${PACKAGE}/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Override PartName="/xl/workbook.xml" ContentType="${TYPE}.sheet.main+xml"/><Override PartName="/xl/worksheets/sheet1.xml" ContentType="${TYPE}.worksheet+xml"/><Override PartName="/xl/sharedStrings.xml" ContentType="${TYPE}.sharedStrings+xml"/></Types>`,
  '_rels/.rels': links(link('rId1', 'officeDocument', 'xl/workbook.xml')),
  'xl/workbook.xml': `<workbook xmlns="${MAIN}" xmlns:r="${RELATIONSHIPS}"><sheets><sheet name="Pages" sheetId="1" r:id="rId1"/></sheets></workbook>`,
  'xl/_rels/workbook.xml.rels': links(
    link('rId1', 'worksheet', 'worksheets/sheet1.xml'),
    link('rId2', 'sharedStrings', 'sharedStrings.xml'),
  ),
  'xl/sharedStrings.xml': `<sst xmlns="${MAIN}"><si><t>https://skerry.example/a?x=1&amp;y=2</t></si><si><r><t>https://skerry.</t></r><r><t>example/b</t></r></si></sst>`,
  'xl/worksheets/sheet1.xml': `<worksheet xmlns="${MAIN}" xmlns:r="${RELATIONSHIPS}"><sheetData><row r="1">${cells}</row></sheetData><hyperlinks><hyperlink ref="E1" r:id="rId1"/></hyperlinks></worksheet>`,
  'xl/worksheets/_rels/sheet1.xml.rels': links(
    link('rId1', 'hyperlink', 'https://skerry.example/e', ' TargetMode="External"'),
  ),
});

test('addresses of a workbook: shared texts with runs, texts in cells, formulas’ values, and links', async () => {
  const cells =
    '<c r="A1" t="s"><v>0</v></c><c r="B1" t="s"><v>1</v></c><c r="C1" t="inlineStr"><is><t>https://skerry.example/c</t></is></c><c r="D1" t="str"><f>A1</f><v>https://skerry.example/d</v></c><c r="E1" t="inlineStr"><is><t>The fares</t></is></c>';
  const found = await addressesInFile(await zipped(PARTS(cells)));
  expect(found.sort()).toEqual(
    ['a?x=1&y=2', 'b', 'c', 'd', 'e'].map((path) => `https://skerry.example/${path}`).sort(),
  );
});

test('a workbook that is damaged inside, or too large, is refused in words', async () => {
  const damaged = { ...PARTS(''), 'xl/workbook.xml': '<workbook' };
  await expect(addressesInFile(await zipped(damaged))).rejects.toMatchObject({ reason: { id: 'list.damaged' } });
  const large = Buffer.alloc(24 * 1024 * 1024);
  const workbook = await zipped({ ...PARTS(''), 'xl/a.xml': large, 'xl/b.xml': large, 'xl/c.xml': large });
  await expect(addressesInFile(workbook)).rejects.toMatchObject({ reason: { id: 'list.unpacked' } });
});

test('a table of text, and a file that is too short for anything', async () => {
  expect(await addressesInFile(Buffer.from('https://skerry.example/\n'))).toEqual(['https://skerry.example/']);
  expect(await addressesInFile(Buffer.from(''))).toEqual([]);
});

test('another ZIP is refused in words', async () => {
  await expect(addressesInFile(await zipped({ 'index.html': '<p>' }))).rejects.toMatchObject({
    reason: { id: 'list.no-workbook' },
  });
  await expect(addressesInFile(Buffer.from('PK\u0003\u0004 and no more'))).rejects.toMatchObject({
    reason: { id: 'list.damaged' },
  });
});
