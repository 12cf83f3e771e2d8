import yazl from 'yazl';
import { addressesIn, addressesInFile } from './address-table';

function zipped(files: Record<string, string>): Promise<Buffer> {
  const zip = new yazl.ZipFile();
  for (const [name, text] of Object.entries(files)) zip.addBuffer(Buffer.from(text), name);
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

// The parts of a workbook as ECMA-376 Part 1 has them (18.4.8 si, 18.3.1.53 is, 18.3.1.96 v), by hand.
test('addresses of a workbook: shared texts with runs, texts in cells, formulas’ values, and links', async () => {
  const workbook = await zipped({
    '[Content_Types].xml': '<Types/>',
    'xl/sharedStrings.xml':
      '<sst><si><t>https://skerry.example/a?x=1&amp;y=2</t></si><si><r><t>https://skerry.</t></r><r><t>example/b</t></r></si></sst>',
    'xl/worksheets/sheet1.xml':
      '<worksheet><c t="inlineStr"><is><t>https://skerry.example/c</t></is></c><c t="str"><f>A1</f><v>https://skerry.example/d</v></c></worksheet>',
    'xl/worksheets/_rels/sheet1.xml.rels':
      '<Relationships><Relationship Id="rId1" Target="https://skerry.example/e" TargetMode="External"/></Relationships>',
  });
  const found = await addressesInFile(workbook);
  expect(found.sort()).toEqual(
    ['a?x=1&y=2', 'b', 'c', 'd', 'e'].map((path) => `https://skerry.example/${path}`).sort(),
  );
});

test('a table of text, and a file that is too short for anything', async () => {
  expect(await addressesInFile(Buffer.from('https://skerry.example/\n'))).toEqual(['https://skerry.example/']);
  expect(await addressesInFile(Buffer.from(''))).toEqual([]);
});

test('another ZIP is refused in words', async () => {
  await expect(addressesInFile(await zipped({ 'index.html': '<p>' }))).rejects.toThrow('This is no workbook');
  await expect(addressesInFile(Buffer.from('PK\u0003\u0004 and no more'))).rejects.toThrow('not a ZIP');
});
