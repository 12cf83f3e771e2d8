import type { DocumentError } from '../document-error';
import { odfFiles, zipOf } from '../testing/packages';
import { appearancesOf, shown, writeTexts } from '../testing/round-trip';
import { ZipFile } from '../zip/zip-file';
import { odp, ods, odt } from './index';

/** OpenDocument: `svg:desc` before `svg:title`, in the schema's order (ODF 1.3, part 3, 10.3.17); `loext:decorative` of LibreOffice. */
const IMAGE = '<draw:image xlink:href="Pictures/a.png"/>';
const frame = (name: string, inner: string, more = '') =>
  `<draw:frame draw:name="${name}" ${more}>${inner}</draw:frame>`;
const content = async (bytes: Uint8Array) =>
  (await ZipFile.open(Buffer.from(bytes))).read('content.xml').toString('utf8');

test('words, decoration by the frame and by its style, caption and link', async () => {
  const bytes = await zipOf(
    odfFiles(
      'text',
      `<text:h text:outline-level="1">Harbour</text:h><text:p>Before<text:s/>it.</text:p>
      <text:p>${frame('A', `${IMAGE}<svg:title>T</svg:title><svg:desc>A quay</svg:desc>`)}</text:p>
      <text:p text:style-name="P1">Figure 1: the quay</text:p>
      <text:p><text:a xlink:href="https://isle.example/">${frame('B', `${IMAGE}<svg:title>Only a title</svg:title>`)}</text:a></text:p>
      <text:p>${frame('C', IMAGE, 'loext:decorative="true"')}${frame('D', IMAGE, 'draw:style-name="fr1"')}${frame('E', IMAGE)}</text:p>`,
      '<style:style style:name="P1" style:family="paragraph" style:parent-style-name="Illustration"/><style:style style:name="fr1" style:family="graphic"><style:graphic-properties loext:decorative="true"/></style:style>',
    ),
  );
  expect(await shown(odt, bytes)).toEqual({
    '': [
      'body > picture A: described “A quay”',
      'body > picture B: described “Only a title”',
      'body > picture C: decorative “”',
      'body > picture D: decorative “”',
      'body > picture E: missing “”',
    ],
  });
  const [a, b] = await appearancesOf(odt, bytes);
  expect(a!.context).toMatchObject({ before: 'Before it.', caption: 'Figure 1: the quay', headings: ['Harbour'] });
  expect(b!.context.control?.href).toBe('https://isle.example/');
});

test('a description is put in after the title, before the contour, first in a group; a title stays', async () => {
  const bytes = await zipOf(
    odfFiles(
      'text',
      `<text:p>${frame('A', `${IMAGE}<svg:title>T</svg:title><draw:contour-polygon/>`)}${frame('B', `${IMAGE}<draw:contour-path/>`)}</text:p>
      <draw:g draw:name="G">${frame('C', IMAGE)}</draw:g><draw:rect draw:name="R" loext:decorative="true"/>`,
    ),
  );
  const { bytes: after } = await writeTexts(odt, bytes, ['One & “1”', 'Two', 'Group', null, 'Shape']);
  const xml = await content(after);
  expect(xml).toContain('<svg:title>T</svg:title><svg:desc>One &amp; “1”</svg:desc><draw:contour-polygon/>');
  expect(xml).toContain('<svg:desc>Two</svg:desc><draw:contour-path/>');
  expect(xml).toContain('<draw:g draw:name="G"><svg:desc>Group</svg:desc><draw:frame');
  expect(xml).toContain('<draw:rect draw:name="R" loext:decorative="false"><svg:desc>Shape</svg:desc></draw:rect>');
  expect((await shown(odt, after))['']).toEqual([
    'body > picture A: described “One & “1””',
    'body > picture B: described “Two”',
    'body > group G: described “Group”',
    'body > group G > picture C: missing “”',
    'body > shape R: described “Shape”',
  ]);
});

test('decorative is marked on the frame, whatever its style says', async () => {
  const files = odfFiles('text', `<text:p>${frame('A', `${IMAGE}<svg:desc>Wave</svg:desc>`)}</text:p>`);
  files['content.xml'] = (files['content.xml'] as string).replace(/ xmlns:loext="[^"]*"/, '');
  const bytes = await zipOf(files);
  const { bytes: after } = await writeTexts(odt, bytes, ['']);
  expect(await content(after)).toContain(
    'xmlns:loext="urn:org:documentfoundation:names:experimental:office:xmlns:loext:1.0" loext:decorative="true"',
  );
  expect(await shown(odt, after)).toEqual({ '': ['body > picture A: decorative “”'] });
  const { bytes: back } = await writeTexts(odt, after, ['Wave again']);
  expect(await shown(odt, back)).toEqual({ '': ['body > picture A: described “Wave again”'] });
});

test('slides and sheets are pages; a chart gives its numbers', async () => {
  const slides = await zipOf(
    odfFiles('presentation', `<draw:page draw:name="p1">${frame('A', IMAGE)}</draw:page><draw:page draw:name="p2"/>`),
  );
  expect(Object.keys(await shown(odp, slides))).toEqual(['slide=1', 'slide=2']);
  const chart = `<chart:chart xmlns:chart="c" chart:class="chart:bar"><chart:title><text:p>Fares</text:p></chart:title></chart:chart><table:table><table:table-row><table:table-cell/><table:table-cell><text:p>Adult</text:p></table:table-cell></table:table-row><table:table-row><table:table-cell><text:p>Zone A</text:p></table:table-cell><table:table-cell office:value="6.5"/></table:table-row></table:table>`;
  const files = odfFiles(
    'spreadsheet',
    `<table:table table:name="Fares"><table:table-row><table:table-cell table:number-columns-repeated="2"/><table:table-cell>${frame('C', '<draw:object xlink:href="./Object 1"/>')}</table:table-cell></table:table-row></table:table>`,
  );
  files['Object 1/content.xml'] = odfFiles('text', chart)['content.xml'] as string;
  const [a] = await appearancesOf(ods, await zipOf(files));
  expect([a!.element, a!.context.spot?.values]).toEqual(['chart', { range: 'C1' }]);
  expect(a!.context.data).toBe('| Fares | Adult |\n| --- | --- |\n| Zone A | 6.5 |');
  expect(a!.markup.svg).toContain('Zone A');
});

test.each([
  [
    'encrypted',
    { 'META-INF/manifest.xml': '<m:manifest xmlns:m="m"><m:encryption-data/></m:manifest>' },
    'document.encrypted',
  ],
  ['signed', { 'META-INF/documentsignatures.xml': '<a/>' }, 'document.signed'],
  ['another kind of package', { mimetype: 'application/epub+zip' }, 'document.not-odf'],
])('%s is not written, and says why', async (_, files, reason) => {
  const bytes = await zipOf({ ...odfFiles('text', `<text:p>${frame('A', IMAGE)}</text:p>`), ...files });
  const failed = await writeTexts(odt, bytes, ['x']).catch((error: unknown) => error);
  expect((failed as DocumentError).reason.id).toBe(reason);
});
