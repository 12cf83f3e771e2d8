import { type DocumentError } from '../document-error';
import {
  inline,
  NAMESPACES,
  paragraph,
  PIXEL,
  rels,
  slidesOf,
  text,
  wordFiles,
  wordOf,
  zipOf,
} from '../testing/packages';
import { appearancesOf, shown, writeTexts } from '../testing/round-trip';
import { ZipFile } from '../zip/zip-file';
import { docx, pptx, xlsx } from './index';
import { OoxmlPackage } from './package';
import { Workbook } from './workbook';

/** Office documents: where words stand in them (ECMA-376; MS-ODRAWXML 2.28 for the mark of decoration). */
const MARK =
  '<a:extLst><a:ext uri="{C183D7F6-B498-43B3-948B-1728B52AA6E4}"><adec:decorative xmlns:adec="http://schemas.microsoft.com/office/drawing/2017/decorative" val="1"/></a:ext></a:extLst>';
const partOf = async (bytes: Uint8Array, part = 'word/document.xml') =>
  (await ZipFile.open(Buffer.from(bytes))).read(part).toString('utf8');

describe('a text document', () => {
  test('description before title, an empty one without the mark is missing, the mark is decorative', async () => {
    const frames = [
      '<wp:docPr id="1" name="A" descr="A quay" title="Quay"/>',
      '<wp:docPr id="2" name="B" title="Only a title"/>',
      '<wp:docPr id="3" name="C" descr=""/>',
      `<wp:docPr id="4" name="D" descr="">${MARK}</wp:docPr>`,
      `<wp:docPr id="5" name="E">${MARK.replace('val="1"', 'val="0"')}</wp:docPr>`,
      '<wp:docPr id="5" name="F" hidden="1"/>',
    ];
    const bytes = await wordOf(frames.map((f) => paragraph(inline(f))).join(''));
    expect(await shown(docx, bytes)).toEqual({
      '': [
        'body > picture 1: described “A quay”',
        'body > picture 2: described “Only a title”',
        'body > picture 3: missing “”',
        'body > picture 4: decorative “”',
        'body > picture 5: missing “”',
        'body > picture 5 (2): missing “”',
      ],
    });
    expect((await appearancesOf(docx, bytes))[5]!.accessible.hidden).toBe('not rendered');
  });

  test('what stands around: headings, passage, caption, link, language', async () => {
    const bytes = await wordOf(
      paragraph(text('Harbour'), 'berschrift1') +
        paragraph(text('The ferry leaves at ten.') + '<w:del><w:r><w:t>Never</w:t></w:r></w:del>') +
        `<w:p><w:hyperlink r:id="rId3"><w:r>${inline('<wp:docPr id="1" name="A"/>')}</w:r></w:hyperlink></w:p>` +
        paragraph(text('Abb. 1: Der Kai'), 'Beschriftung') +
        paragraph(text('Afterwards.')),
    );
    const { pages } = await docx.read(bytes);
    const [a] = pages[0]!.reading.appearances;
    expect(pages[0]!.reading).toMatchObject({ title: 'Harbour', lang: 'de-DE', headings: ['Harbour'] });
    expect(a!.context).toMatchObject({
      headings: ['Harbour'],
      before: 'The ferry leaves at ten.',
      caption: 'Abb. 1: Der Kai',
      isAlone: true,
    });
    expect(a!.context.control).toMatchObject({ kind: 'link', href: 'https://isle.example/', text: '' });
    expect([a!.markup.src, a!.layout.width, a!.layout.height]).toEqual(['word/media/image1.png', 100, 50]);
    expect(Buffer.from(await docx.picture!(bytes, a!.markup.src!)).equals(PIXEL)).toBe(true);
  });

  test('the halves of an AlternateContent are one place, and both are written', async () => {
    const group = `<w:drawing><wp:anchor><wp:extent cx="9525" cy="9525"/><wp:docPr id="7" name="G"/><a:graphic><a:graphicData uri="http://schemas.microsoft.com/office/word/2010/wordprocessingGroup"><wpg:wgp><pic:pic><pic:nvPicPr><pic:cNvPr id="8" name="P" descr="Old"/></pic:nvPicPr><pic:blipFill><a:blip r:embed="rId1"/></pic:blipFill></pic:pic></wpg:wgp></a:graphicData></a:graphic></wp:anchor></w:drawing>`;
    const fallback =
      '<w:pict><v:group id="g"><v:shape id="s" alt="Old"><v:imagedata r:id="rId1"/></v:shape></v:group></w:pict>';
    const bytes = await wordOf(
      paragraph(
        `<mc:AlternateContent><mc:Choice Requires="wpg">${group}</mc:Choice><mc:Fallback>${fallback}</mc:Fallback></mc:AlternateContent>`,
      ),
    );
    expect(await shown(docx, bytes)).toEqual({
      '': ['body > group 7: missing “”', 'body > group 7 > picture 8: described “Old”'],
    });
    const { bytes: after } = await writeTexts(docx, bytes, ['Both boats', 'New']);
    const xml = await partOf(after);
    expect(xml).toContain('<wp:docPr id="7" name="G" descr="Both boats"/>');
    expect(xml).toContain('<pic:cNvPr id="8" name="P" descr="New"/>');
    expect(xml).toContain('<v:group alt="Both boats" id="g"><v:shape id="s" alt="New">');
  });

  test('a picture in a text box is one place, and both halves of the box get its words', async () => {
    const picture = (id: number) => paragraph(inline(`<wp:docPr id="${id}" name="P"/>`));
    const box = `<w:drawing><wp:anchor><wp:extent cx="9525" cy="9525"/><wp:docPr id="7" name="Text Box"/><a:graphic><a:graphicData uri="http://schemas.microsoft.com/office/word/2010/wordprocessingShape"><wps:wsp><wps:cNvSpPr txBox="1"/><wps:spPr/><wps:txbx><w:txbxContent>${paragraph(text('In the box.'))}${picture(8)}</w:txbxContent></wps:txbx></wps:wsp></a:graphicData></a:graphic></wp:anchor></w:drawing>`;
    const copy = `<w:pict><v:shape id="s"><v:textbox><w:txbxContent>${paragraph(text('In the box.'))}${picture(8)}</w:txbxContent></v:textbox></v:shape></w:pict>`;
    const bytes = await wordOf(
      paragraph(
        `<mc:AlternateContent><mc:Choice Requires="wps">${box}</mc:Choice><mc:Fallback>${copy}</mc:Fallback></mc:AlternateContent>`,
      ),
    );
    expect(await shown(docx, bytes)).toEqual({ '': ['body > picture 8: missing “”'] });
    const { bytes: after } = await writeTexts(docx, bytes, ['Two boats']);
    const xml = await partOf(after);
    expect(xml.match(/<wp:docPr id="8" name="P" descr="Two boats"\/>/g)).toHaveLength(2);
    expect(xml).toContain('<wp:docPr id="7" name="Text Box"/>');
  });

  test('inner properties that have words are kept in step; those without stay', async () => {
    const bytes = await wordOf(
      paragraph(inline('<wp:docPr id="1" name="A"/>', '<pic:cNvPr id="0" name="a.png" descr="Old"/>')) +
        paragraph(inline('<wp:docPr id="2" name="B" title="T"/>')),
    );
    const { bytes: after, changes } = await writeTexts(docx, bytes, ['New & “new”', 'Other']);
    const xml = await partOf(after);
    expect(xml).toContain('<wp:docPr id="1" name="A" descr="New &amp; “new”"/>');
    expect(xml).toContain('<pic:cNvPr id="0" name="a.png" descr="New &amp; “new”"/>');
    expect(xml).toContain('<wp:docPr id="2" name="B" descr="Other" title="T"/>');
    expect(xml).toContain('<pic:cNvPr id="0" name="a.png"/>');
    expect(changes.map((c) => [c.words, c.file])).toEqual([
      [{ before: '', after: 'New & “new”' }, 'word/document.xml'],
      [{ before: 'T', after: 'Other' }, 'word/document.xml'],
    ]);
  });

  test('decorative is set and removed in the format’s own way', async () => {
    const bytes = await wordOf(
      paragraph(inline('<wp:docPr id="1" name="A" descr="Wave"/>')) +
        paragraph(inline(`<wp:docPr id="2" name="B">${MARK}</wp:docPr>`)) +
        paragraph(inline('<wp:docPr id="3" name="C"><a:extLst><a:ext uri="{other}"/></a:extLst></wp:docPr>')),
    );
    const { bytes: after } = await writeTexts(docx, bytes, ['', 'Words again', '']);
    expect(await shown(docx, after)).toEqual({
      '': [
        'body > picture 1: decorative “”',
        'body > picture 2: described “Words again”',
        'body > picture 3: decorative “”',
      ],
    });
    const xml = await partOf(after);
    expect(xml).toContain('descr=""><a:extLst xmlns:a=');
    expect(xml).toContain('<a:ext uri="{other}"/><a:ext uri="{C183D7F6');
    // Back to words: only the mark is turned off.
    const { bytes: back } = await writeTexts(docx, after, ['Wave', null, null]);
    expect((await shown(docx, back))['']![0]).toBe('body > picture 1: described “Wave”');
  });

  test('headers and footnotes come after the body; old VML is read, and takes no mark', async () => {
    const header = `<?xml version="1.0"?><w:hdr ${NAMESPACES}>${paragraph(inline('<wp:docPr id="1" name="L" descr="Logo"/>'))}</w:hdr>`;
    const files = wordFiles(
      paragraph(
        '<w:pict><v:shape id="i" alt="Old boat" style="width:96pt;height:48pt"><v:imagedata r:id="rId1" o:title="t"/></v:shape></w:pict>',
      ),
      {
        'word/header1.xml': header,
        'word/_rels/header1.xml.rels': rels({ rId1: ['image', 'media/image1.png'] }),
      },
    );
    files['word/_rels/document.xml.rels'] = rels({
      rId1: ['image', 'media/image1.png'],
      rId4: ['header', 'header1.xml'],
    });
    const bytes = await zipOf(files);
    expect(await shown(docx, bytes)).toEqual({
      '': ['body > picture i: described “Old boat”', 'header > picture 1: described “Logo”'],
    });
    const [old, logo] = await appearancesOf(docx, bytes);
    expect([old!.layout.width, logo!.context.region]).toEqual([128, 'header']);
    const { refusals, bytes: after } = await writeTexts(docx, bytes, ['', 'Isle Ferries']);
    expect(refusals.map((r) => r.reason.id)).toEqual(['refusal.vml-decorative']);
    expect(await partOf(after, 'word/header1.xml')).toContain('descr="Isle Ferries"');
    expect(await partOf(after)).toBe(await partOf(bytes));
  });

  test('a part in UTF-16, strict namespaces and other prefixes are read and written', async () => {
    const strict = (xml: string) =>
      xml
        .replaceAll(
          'http://schemas.openxmlformats.org/wordprocessingml/2006/main',
          'http://purl.oclc.org/ooxml/wordprocessingml/main',
        )
        .replaceAll('http://schemas.openxmlformats.org/drawingml/2006/', 'http://purl.oclc.org/ooxml/drawingml/')
        .replaceAll('wp:', 'wörd:')
        .replaceAll(':wp=', ':wörd=');
    const files = wordFiles(paragraph(inline('<wp:docPr id="1" name="A"/>')));
    const source = strict(files['word/document.xml'] as string).replace('UTF-8', 'UTF-16');
    files['word/document.xml'] = Buffer.from(`\ufeff${source}`, 'utf16le');
    const bytes = await zipOf(files);
    const { bytes: after } = await writeTexts(docx, bytes, ['Zwei Möwen']);
    expect(await shown(docx, after)).toEqual({ '': ['body > picture 1: described “Zwei Möwen”'] });
    const part = (await ZipFile.open(Buffer.from(after))).read('word/document.xml');
    expect([part[0], part[1]]).toEqual([0xff, 0xfe]);
    const decorative = await writeTexts(docx, bytes, ['']);
    const marked = (await ZipFile.open(Buffer.from(decorative.bytes))).read('word/document.xml').toString('utf16le');
    expect(marked).toContain('xmlns:a="http://purl.oclc.org/ooxml/drawingml/main"');
  });

  test.each([
    ['signed', async () => zipOf({ ...wordFiles(''), '_xmlsignatures/sig1.xml': '<a/>' }), 'document.signed'],
    [
      'an old file',
      async () => Buffer.concat([Buffer.from('d0cf11e0a1b11ae1', 'hex'), Buffer.alloc(600)]),
      'document.old',
    ],
    [
      'a password',
      async () => Buffer.concat([Buffer.from('d0cf11e0a1b11ae1', 'hex'), Buffer.from('EncryptedPackage', 'utf16le')]),
      'document.encrypted',
    ],
    ['another package', async () => zipOf({ 'a.txt': 'x' }), 'document.not-office'],
  ])('%s is not written, and says why', async (_, bytes, reason) => {
    const failed = await writeTexts(docx, await bytes(), ['x']).catch((error: unknown) => error);
    expect((failed as DocumentError).reason.id).toBe(reason);
  });

  test('titles, captions and long descriptions have no place in it', async () => {
    const bytes = await wordOf(paragraph(inline('<wp:docPr id="1" name="A"/>')));
    const edit = { fragment: null, order: 0, title: 'T', caption: 'C', credit: null, longDescription: null };
    const { refusals, bytes: after } = await docx.write(bytes, [edit]);
    expect(refusals.map((r) => [r.part, r.reason.id])).toEqual([
      ['attributes', 'refusal.document-title'],
      ['caption', 'refusal.document-caption'],
      ['credit', 'refusal.document-beside'],
      ['long-description', 'refusal.document-beside'],
    ]);
    expect(Buffer.from(after).equals(bytes)).toBe(true);
    await expect(docx.write(bytes, [{ order: 9, text: 'x' }])).rejects.toThrow(RangeError);
  });
});

describe('a presentation', () => {
  const pic = (id: number, words = '', x = 0, y = 0) =>
    `<p:pic><p:nvPicPr><p:cNvPr id="${id}" name="P" ${words}/></p:nvPicPr><p:blipFill><a:blip r:embed="rId1"/></p:blipFill><p:spPr><a:xfrm><a:off x="${x}" y="${y}"/><a:ext cx="914400" cy="685800"/></a:xfrm></p:spPr></p:pic>`;
  const frame = (id: number, uri: string, inner: string) =>
    `<p:graphicFrame><p:nvGraphicFramePr><p:cNvPr id="${id}" name="F"/></p:nvGraphicFramePr><p:xfrm><a:off x="0" y="0"/><a:ext cx="914400" cy="685800"/></p:xfrm><a:graphic><a:graphicData uri="http://schemas.openxmlformats.org/drawingml/2006/${uri}">${inner}</a:graphicData></a:graphic></p:graphicFrame>`;
  const box = (id: number, words: string, type?: string) =>
    `<p:sp><p:nvSpPr><p:cNvPr id="${id}" name="S"/><p:cNvSpPr/><p:nvPr>${type ? `<p:ph type="${type}"/>` : ''}</p:nvPr></p:nvSpPr><p:spPr/><p:txBody><a:p><a:r><a:rPr lang="fr-FR"/><a:t>${words}</a:t></a:r></a:p></p:txBody></p:sp>`;

  test('slides in the order shown, with title, place on the slide and text in reading order', async () => {
    const bytes = await slidesOf([
      box(2, 'Le quai', 'title') + box(3, 'Avant.') + pic(4, 'descr="Un bateau"', 0, 3_000_000) + box(5, 'Après.'),
      '',
    ]);
    const { pages } = await pptx.read(bytes);
    expect(pages.map((p) => p.fragment)).toEqual(['slide=1', 'slide=2']);
    const [a] = pages[0]!.reading.appearances;
    expect(pages[0]!.reading).toMatchObject({ title: 'Le quai', lang: 'fr-FR' });
    expect(a!.context).toMatchObject({
      before: 'Avant.',
      after: 'Après.',
      headings: ['Le quai'],
      spot: { id: 'spot.left' },
    });
    expect(a!.layout.box).toEqual({ left: 0, top: 3_000_000 / 6_858_000, width: 0.1, height: 0.1 });
  });

  test('charts and diagrams are drawn from their data, which is given in words', async () => {
    const chart = `<c:chartSpace xmlns:c="c" xmlns:a="a"><c:chart><c:title><c:tx><a:t>Fares</a:t></c:tx></c:title><c:plotArea><c:pieChart><c:ser><c:tx><c:v>2026</c:v></c:tx><c:cat><c:pt idx="0"><c:v>Adult</c:v></c:pt><c:pt idx="2"><c:v>Dog</c:v></c:pt></c:cat><c:val><c:pt idx="0"><c:v>6.5</c:v></c:pt><c:pt idx="2"><c:v>x</c:v></c:pt></c:val></c:ser></c:pieChart></c:plotArea></c:chart></c:chartSpace>`;
    const diagram = `<d:dataModel xmlns:d="d" xmlns:a="a"><d:ptLst><d:pt modelId="1" type="doc"><d:t><a:t>no</a:t></d:t></d:pt><d:pt modelId="2"><d:t><a:t>Board</a:t></d:t></d:pt><d:pt modelId="3"><d:t><a:t>Sail</a:t></d:t></d:pt></d:ptLst></d:dataModel>`;
    const bytes = await slidesOf(
      [
        frame(2, 'chart', '<c:chart xmlns:c="c" r:id="rId2"/>') +
          frame(3, 'diagram', '<d:relIds xmlns:d="d" r:dm="rId3"/>') +
          frame(4, 'table', '<a:tbl/>'),
      ],
      {
        'ppt/charts/chart1.xml': chart,
        'ppt/diagrams/data1.xml': diagram,
      },
    );
    const [a, b, c] = await appearancesOf(pptx, bytes);
    expect([a!.element, b!.element, c!.element]).toEqual(['chart', 'diagram', 'table']);
    expect(a!.context.data).toBe('| Fares | 2026 |\n| --- | --- |\n| Adult | 6.5 |\n|   |   |\n| Dog |   |');
    expect(b!.context.data).toBe('- Board\n- Sail');
    expect(a!.markup.svg).toMatch(/^<svg xmlns.*Adult 6\.5.*<\/svg>$/);
    expect(b!.markup.svg).toContain('>Sail</text>');
  });

  test('parts of a group stand in its place; shapes of nothing but text are not listed', async () => {
    const group = `<p:grpSp><p:nvGrpSpPr><p:cNvPr id="9" name="G"/></p:nvGrpSpPr><p:grpSpPr><a:xfrm><a:off x="4572000" y="0"/><a:ext cx="4572000" cy="6858000"/><a:chOff x="0" y="0"/><a:chExt cx="914400" cy="685800"/></a:xfrm></p:grpSpPr>${pic(10)}${box(11, 'label')}</p:grpSp>`;
    const bytes = await slidesOf([group + box(12, 'text')]);
    expect(await shown(pptx, bytes)).toEqual({
      'slide=1': ['slide > group 9: missing “”', 'slide > group 9 > picture 10: missing “”'],
    });
    const [, part] = await appearancesOf(pptx, bytes);
    expect(part!.layout.box).toEqual({ left: 0.5, top: 0, width: 0.5, height: 1 });
    expect(part!.context.partOf).toBe('slide > group 9');
  });

  test('words go to the slide that they are for', async () => {
    const bytes = await slidesOf([pic(2), pic(2)]);
    const { bytes: after } = await writeTexts(pptx, bytes, ['Second'], { fragment: 'slide=2' });
    expect(await shown(pptx, after)).toEqual({
      'slide=1': ['slide > picture 2: missing “”'],
      'slide=2': ['slide > picture 2: described “Second”'],
    });
    const [a, b] = [await ZipFile.open(bytes), await ZipFile.open(Buffer.from(after))];
    expect(a.names.filter((n) => !a.read(n).equals(b.read(n)))).toEqual(['ppt/slides/slide2.xml']);
  });
});

test('a workbook: sheets, cells under the picture, texts around it', async () => {
  const S =
    'xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"';
  const anchor = `<x:twoCellAnchor><x:from><x:col>27</x:col><x:row>1</x:row></x:from><x:to><x:col>28</x:col><x:row>4</x:row></x:to><x:pic><x:nvPicPr><x:cNvPr id="2" name="P"/></x:nvPicPr><x:blipFill><a:blip xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships" r:embed="rId1"/></x:blipFill></x:pic></x:twoCellAnchor>`;
  const bytes = await zipOf({
    '[Content_Types].xml': '<Types/>',
    '_rels/.rels': rels({ rId1: ['officeDocument', 'xl/workbook.xml'] }),
    'xl/workbook.xml': `<workbook ${S}><sheets><sheet name="Hidden" state="hidden" r:id="rId1"/><sheet name="Fares" r:id="rId2"/></sheets></workbook>`,
    'xl/_rels/workbook.xml.rels': rels({
      rId1: ['worksheet', 'worksheets/s1.xml'],
      rId2: ['worksheet', '/xl/worksheets/s2.xml'],
      rId3: ['sharedStrings', 'sharedStrings.xml'],
    }),
    'xl/sharedStrings.xml': '<sst><si><t>Journey</t></si><si><r><t>Round </t></r><r><t>trip</t></r></si></sst>',
    'xl/worksheets/s1.xml': `<worksheet ${S}><sheetData/></worksheet>`,
    'xl/worksheets/s2.xml': `<worksheet ${S}><sheetData><row r="1"><c t="s"><v>0</v></c></row><row r="9"><c t="s"><v>1</v></c><c><v>14</v></c></row></sheetData></worksheet>`,
    'xl/worksheets/_rels/s2.xml.rels': rels({ rId1: ['drawing', '../drawings/d1.xml'] }),
    'xl/drawings/d1.xml': `<x:wsDr xmlns:x="x" xmlns:a="a">${anchor}</x:wsDr>`,
    'xl/drawings/_rels/d1.xml.rels': rels({ rId1: ['image', '../media/i.png'] }),
    'xl/media/i.png': PIXEL,
  });
  const { pages } = await xlsx.read(bytes);
  expect(pages.map((p) => [p.fragment, p.reading.title])).toEqual([
    ['sheet=1', 'Hidden'],
    ['sheet=2', 'Fares'],
  ]);
  const [a] = pages[1]!.reading.appearances;
  expect(a!.context).toMatchObject({
    spot: { id: 'spot.cells', values: { range: 'AB2:AC5' } },
    before: 'Journey',
    after: 'Round trip 14',
  });
  const { bytes: after } = await writeTexts(xlsx, bytes, ['A ticket'], { fragment: 'sheet=2' });
  expect((await shown(xlsx, after))['sheet=2']).toEqual(['sheet > picture 2: described “A ticket”']);
});

test('a chart that keeps no copy of its numbers is read from the cells, as openpyxl writes it', async () => {
  const S =
    'xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"';
  const cell = (at: string, words: string) => `<c r="${at}" t="inlineStr"><is><t>${words}</t></is></c>`;
  const series = (column: string) =>
    `<ser><tx><strRef><f>'It''s'!${column}1</f></strRef></tx><cat><numRef><f>'It''s'!$A$2:$A$4</f></numRef></cat><val><numRef><f>'It''s'!$${column}$2:$${column}$4</f></numRef></val></ser>`;
  const frame =
    '<x:oneCellAnchor><x:from><x:col>4</x:col><x:row>1</x:row></x:from><x:graphicFrame><x:nvGraphicFramePr><x:cNvPr id="1" name="Chart 1"/></x:nvGraphicFramePr><a:graphic><a:graphicData uri="http://schemas.openxmlformats.org/drawingml/2006/chart"><c:chart xmlns:c="c" r:id="rId1" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"/></a:graphicData></a:graphic></x:graphicFrame></x:oneCellAnchor>';
  const bytes = await zipOf({
    '[Content_Types].xml': '<Types/>',
    '_rels/.rels': rels({ rId1: ['officeDocument', 'xl/workbook.xml'] }),
    'xl/workbook.xml': `<workbook ${S}><sheets><sheet name="It's" r:id="rId1"/></sheets></workbook>`,
    'xl/_rels/workbook.xml.rels': rels({ rId1: ['worksheet', 'worksheets/s1.xml'] }),
    'xl/worksheets/s1.xml': `<worksheet ${S}><sheetData><row r="1">${cell('B1', 'Single')}${cell('C1', 'Return')}</row><row r="2">${cell('A2', 'Brannoch')}<c r="B2"><v>3.5</v></c><c r="C2"><v>6</v></c></row><row r="4">${cell('A4', 'Isle')}<c r="C4"><v>8</v></c></row></sheetData></worksheet>`,
    'xl/worksheets/_rels/s1.xml.rels': rels({ rId1: ['drawing', '../drawings/d1.xml'] }),
    'xl/drawings/d1.xml': `<x:wsDr xmlns:x="x" xmlns:a="a">${frame}</x:wsDr>`,
    'xl/drawings/_rels/d1.xml.rels': rels({ rId1: ['chart', '/xl/charts/chart1.xml'] }),
    'xl/charts/chart1.xml': `<chartSpace><chart><plotArea><barChart>${series('B')}${series('C')}</barChart></plotArea></chart></chartSpace>`,
  });
  const [chart] = (await xlsx.read(bytes)).pages[0]!.reading.appearances;
  expect(chart!.context.data).toBe(
    '| — | Single | Return |\n| --- | --- | --- |\n| Brannoch | 3.5 | 6 |\n|   |   |   |\n| Isle |   | 8 |',
  );
  expect(chart!.markup.svg).toContain('Brannoch');
});

test('references that no chart can mean have no cells', async () => {
  const pack = await OoxmlPackage.open(
    await zipOf({
      '[Content_Types].xml': '<Types/>',
      '_rels/.rels': rels({ rId1: ['officeDocument', 'xl/workbook.xml'] }),
      'xl/workbook.xml': '<workbook><sheets><sheet name="A" r:id="rId1" xmlns:r="r"/></sheets></workbook>',
      'xl/_rels/workbook.xml.rels': rels({ rId1: ['worksheet', 's.xml'] }),
      'xl/s.xml': '<worksheet><sheetData><row><c><v>1</v></c><c><v>2</v></c></row></sheetData></worksheet>',
    }),
  );
  const workbook = new Workbook(pack);
  expect(workbook.cellsAt('A!$A$1:$B$1')).toEqual(['1', '2']);
  // Another sheet, a union, a whole column, backwards, more than a chart can show.
  for (const none of ['B!A1', '(A!A1,A!B1)', 'A!A:A', 'A!B1:A1', 'A!A1:A999999', 'SUM(A1)', ''])
    expect([none, workbook.cellsAt(none)]).toEqual([none, []]);
});
