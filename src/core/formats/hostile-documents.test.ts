import { gzipSync } from 'node:zlib';
import { DocumentError } from './document-error';
import { formatById } from './index';
import type { FormatId } from '../model/document';
import {
  bookFiles,
  inline,
  odfFiles,
  paragraph,
  rels,
  slidesOf,
  wordFiles,
  zipOf,
  type Files,
} from './testing/packages';

/** Documents that were made to do harm: each is read in time or refused in words, and none changes what stands outside. */
type Made = () => Promise<Buffer> | Buffer;
const ENTITIES = '<!DOCTYPE x [<!ENTITY a "AAAAAAAAAA"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;&a;&a;">]>';
const OUTSIDE = '<!DOCTYPE x [<!ENTITY a SYSTEM "file:///etc/passwd">]>';
const PARAMETER = '<!DOCTYPE x [<!ENTITY % p SYSTEM "http://127.0.0.1:1/x.dtd"> %p;]>';
const deep = (name: string, n: number) => `<${name}>`.repeat(n) + `</${name}>`.repeat(n);
const withDoctype = (xml: string, doctype: string) => xml.replace(/^(<\?xml[^>]*\?>)?/, (head) => head + doctype);
const word =
  (change: (files: Files) => void): Made =>
  () => {
    const files = wordFiles(paragraph(inline('<wp:docPr id="1" name="A"/>')));
    change(files);
    return zipOf(files);
  };
const odf =
  (change: (files: Files) => void): Made =>
  () => {
    const files = odfFiles(
      'text',
      '<text:p><draw:frame><draw:image xlink:href="Pictures/a.png"/></draw:frame></text:p>',
    );
    change(files);
    return zipOf(files);
  };
const book =
  (change: (files: Files) => void): Made =>
  () => {
    const files = bookFiles(['<img src="a.png"/>']);
    change(files);
    return zipOf(files);
  };
const swapped = (of: Files, name: string, change: (text: string) => string) =>
  void (of[name] = change(String(of[name])));
const raw =
  (made: Made, change: (bytes: Buffer) => Buffer): Made =>
  async () =>
    change(Buffer.from(await made()));
const plain = word(() => undefined);

const CASES: [what: string, format: FormatId, made: Made][] = [
  ['entities in entities', 'docx', word((f) => swapped(f, 'word/document.xml', (x) => withDoctype(x, ENTITIES)))],
  ['a file from outside', 'docx', word((f) => swapped(f, 'word/document.xml', (x) => withDoctype(x, OUTSIDE)))],
  ['a DTD from the network', 'docx', word((f) => swapped(f, 'word/document.xml', (x) => withDoctype(x, PARAMETER)))],
  [
    'entities in the relationships',
    'docx',
    word((f) => swapped(f, 'word/_rels/document.xml.rels', (x) => withDoctype(x, ENTITIES))),
  ],
  ['entities in the styles', 'docx', word((f) => swapped(f, 'word/styles.xml', (x) => withDoctype(x, ENTITIES)))],
  [
    'deep nesting',
    'docx',
    word((f) => swapped(f, 'word/document.xml', (x) => x.replace('<w:body>', `<w:body>${deep('w:x', 20_000)}`))),
  ],
  [
    'deep groups',
    'docx',
    word((f) => swapped(f, 'word/document.xml', (x) => x.replace('<w:body>', `<w:body>${deep('w:pict', 300)}`))),
  ],
  [
    'a part that climbs out',
    'docx',
    word((f) =>
      swapped(f, 'word/_rels/document.xml.rels', (x) => x.replace('media/image1.png', '../../../../../etc/passwd')),
    ),
  ],
  [
    'a picture of an address',
    'docx',
    word((f) => void (f['word/_rels/document.xml.rels'] = rels({ rId1: ['image', 'http://169.254.169.254/latest'] }))),
  ],
  [
    'a picture of a local file',
    'docx',
    word((f) =>
      swapped(f, 'word/_rels/document.xml.rels', (x) =>
        x.replace('"media/image1.png"', '"file:///etc/passwd" TargetMode="External"'),
      ),
    ),
  ],
  [
    'a main part that is itself',
    'docx',
    word((f) => void (f['_rels/.rels'] = rels({ rId1: ['officeDocument', '_rels/.rels'] }))),
  ],
  ['no main part', 'docx', word((f) => void delete f['word/document.xml'])],
  [
    'relationships that lead in a circle',
    'docx',
    word(
      (f) =>
        void (f['word/_rels/document.xml.rels'] = rels({
          rId1: ['header', 'document.xml'],
          rId2: ['styles', 'document.xml'],
        })),
    ),
  ],
  ['no XML', 'docx', word((f) => void (f['word/document.xml'] = 'hello'))],
  ['an empty part', 'docx', word((f) => void (f['word/document.xml'] = ''))],
  ['bytes of no encoding', 'docx', word((f) => void (f['word/document.xml'] = Buffer.from([0x3c, 0xff, 0xfe, 0x80])))],
  ['half of UTF-16', 'docx', word((f) => void (f['word/document.xml'] = Buffer.from([0xff, 0xfe, 0x3c])))],
  ['a NUL among the names', 'docx', word((f) => void (f['a\u0000b.xml'] = 'x'))],
  [
    'very many objects',
    'docx',
    word((f) =>
      swapped(f, 'word/document.xml', (x) =>
        x.replace('<w:body>', `<w:body>${paragraph(inline('<wp:docPr id="1" name="A"/>')).repeat(6_000)}`),
      ),
    ),
  ],
  [
    'a description of a megabyte',
    'docx',
    word((f) =>
      swapped(f, 'word/document.xml', (x) => x.replace('name="A"', `name="A" descr="${'x'.repeat(1_000_000)}"`)),
    ),
  ],
  [
    'very many attributes',
    'docx',
    word((f) =>
      swapped(f, 'word/document.xml', (x) =>
        x.replace('name="A"', Array.from({ length: 20_000 }, (_, i) => `a${i}="x"`).join(' ')),
      ),
    ),
  ],
  [
    'attributes named after methods',
    'docx',
    word((f) =>
      swapped(f, 'word/document.xml', (x) =>
        x.replace('name="A"', 'name="A" __proto__="x" constructor="y" hasOwnProperty="z"'),
      ),
    ),
  ],
  [
    'one attribute twice',
    'docx',
    word((f) => swapped(f, 'word/document.xml', (x) => x.replace('name="A"', 'name="A" name="B"'))),
  ],
  ['a bomb', 'docx', word((f) => void (f['word/media/image1.png'] = Buffer.alloc(40_000_000)))],
  ['a bomb of XML', 'docx', word((f) => void (f['word/document.xml'] = Buffer.alloc(30_000_000, 0x20)))],
  [
    'very many entries',
    'docx',
    word((f) => {
      for (let i = 0; i < 20_500; i++) f[`x/${i}`] = '';
    }),
  ],
  ['a name of two thousand letters', 'docx', word((f) => void (f['a'.repeat(2000)] = 'x'))],
  ['cut off in the middle', 'docx', raw(plain, (b) => b.subarray(0, b.length / 2))],
  ['only its first bytes', 'docx', raw(plain, (b) => b.subarray(0, 40))],
  ['only its end', 'docx', raw(plain, (b) => b.subarray(b.length - 40))],
  [
    'bytes changed all over',
    'docx',
    raw(plain, (b) => {
      for (let i = 40; i < b.length; i += 97) b[i] = b[i]! ^ 0x55;
      return b;
    }),
  ],
  [
    'a directory that lies about its length',
    'docx',
    raw(plain, (b) => {
      b.writeUInt32LE(0xfffffff0, b.length - 6);
      return b;
    }),
  ],
  ['an old file', 'docx', () => Buffer.concat([Buffer.from('d0cf11e0a1b11ae1', 'hex'), Buffer.alloc(100)])],
  ['nothing', 'docx', () => Buffer.alloc(0)],
  [
    'a table of tables',
    'docx',
    word((f) => swapped(f, 'word/document.xml', (x) => x.replace('<w:body>', `<w:body>${deep('w:tbl', 480)}`))),
  ],
  [
    'a slide list that names itself',
    'pptx',
    () => slidesOf([], { 'ppt/_rels/presentation.xml.rels': rels({ rId1: ['slide', 'presentation.xml'] }) }),
  ],
  [
    'a million slides',
    'pptx',
    () =>
      slidesOf([''], {
        'ppt/presentation.xml': `<p:presentation xmlns:p="p" xmlns:r="r"><p:sldIdLst>${'<p:sldId r:id="rId1"/>'.repeat(20_000)}</p:sldIdLst></p:presentation>`,
      }),
  ],
  [
    'groups in groups',
    'pptx',
    () =>
      slidesOf([
        `${'<p:grpSp><p:nvGrpSpPr><p:cNvPr id="2" name="G" descr="x"/></p:nvGrpSpPr>'.repeat(200)}${'</p:grpSp>'.repeat(200)}`,
      ]),
  ],
  [
    'a chart of a million points',
    'pptx',
    () =>
      slidesOf(
        [
          '<p:graphicFrame><p:nvGraphicFramePr><p:cNvPr id="2" name="C"/></p:nvGraphicFramePr><a:graphicData uri="x/chart"><c:chart xmlns:c="c" r:id="rId2"/></a:graphicData></p:graphicFrame>',
        ],
        {
          'ppt/charts/chart1.xml': `<c:s xmlns:c="c"><c:chart><c:plotArea><c:barChart>${'<c:ser><c:val>'.repeat(60)}${'<c:pt idx="999999999"><c:v>1e999</c:v></c:pt>'.repeat(1000)}${'</c:val></c:ser>'.repeat(60)}</c:barChart></c:plotArea></c:chart></c:s>`,
        },
      ),
  ],
  [
    'markup in a chart’s names',
    'pptx',
    () =>
      slidesOf(
        [
          '<p:graphicFrame><p:nvGraphicFramePr><p:cNvPr id="2" name="C"/></p:nvGraphicFramePr><a:graphicData uri="x/chart"><c:chart xmlns:c="c" r:id="rId2"/></a:graphicData></p:graphicFrame>',
        ],
        {
          'ppt/charts/chart1.xml':
            '<c:s xmlns:c="c" xmlns:a="a"><c:chart><c:title><a:t>&lt;script&gt;alert(1)&lt;/script&gt;</a:t></c:title><c:plotArea><c:barChart><c:ser><c:val><c:pt idx="0"><c:v>1</c:v></c:pt></c:val></c:ser></c:barChart></c:plotArea></c:chart></c:s>',
        },
      ),
  ],
  [
    'a sheet of a billion rows',
    'xlsx',
    () =>
      zipOf({
        '[Content_Types].xml': '<T/>',
        '_rels/.rels': rels({ rId1: ['officeDocument', 'w.xml'] }),
        'w.xml': '<w xmlns:r="r"><sheets><sheet name="s" r:id="rId1"/></sheets></w>',
        '_rels/w.xml.rels': rels({ rId1: ['worksheet', 's.xml'] }),
        's.xml': '<s xmlns:r="r"><sheetData><row r="999999999"><c><v>1</v></c></row></sheetData></s>',
        '_rels/s.xml.rels': rels({ rId1: ['drawing', 'd.xml'] }),
        'd.xml': '<d/>',
      }),
  ],
  ['entities in entities', 'odt', odf((f) => swapped(f, 'content.xml', (x) => withDoctype(x, ENTITIES)))],
  ['a file from outside', 'odt', odf((f) => swapped(f, 'content.xml', (x) => withDoctype(x, OUTSIDE)))],
  [
    'deep nesting',
    'odt',
    odf((f) => swapped(f, 'content.xml', (x) => x.replace('<text:p>', `${deep('text:section', 5_000)}<text:p>`))),
  ],
  ['a type of a megabyte', 'odt', odf((f) => void (f['mimetype'] = 'x'.repeat(1_000_000)))],
  [
    'a picture outside of it',
    'odt',
    odf((f) => swapped(f, 'content.xml', (x) => x.replace('Pictures/a.png', '../../../etc/passwd'))),
  ],
  [
    'cells that repeat a billion times',
    'ods',
    () =>
      zipOf(
        odfFiles(
          'spreadsheet',
          '<table:table><table:table-row table:number-rows-repeated="999999999"><table:table-cell table:number-columns-repeated="999999999"/><table:table-cell><draw:frame><draw:image xlink:href="Pictures/a.png"/></draw:frame></table:table-cell></table:table-row></table:table>',
        ),
      ),
  ],
  [
    'styles that derive from themselves',
    'odt',
    odf((f) =>
      swapped(f, 'content.xml', (x) =>
        x.replace(
          '<office:automatic-styles>',
          '<office:automatic-styles><style:style style:name="a" style:family="paragraph" style:parent-style-name="b"/><style:style style:name="b" style:family="paragraph" style:parent-style-name="a"/>',
        ),
      ),
    ),
  ],
  [
    'an object that is itself',
    'odt',
    odf((f) => swapped(f, 'content.xml', (x) => x.replace('<draw:image', '<draw:object xlink:href="."/><draw:image'))),
  ],
  ['entities in entities', 'epub', book((f) => swapped(f, 'OEBPS/c0.xhtml', (x) => withDoctype(x, ENTITIES)))],
  ['a file from outside', 'epub', book((f) => swapped(f, 'OEBPS/book.opf', (x) => withDoctype(x, OUTSIDE)))],
  [
    'a package document outside',
    'epub',
    book((f) => swapped(f, 'META-INF/container.xml', (x) => x.replace('OEBPS/book.opf', '../../etc/passwd'))),
  ],
  [
    'chapters that climb out',
    'epub',
    book((f) => swapped(f, 'OEBPS/book.opf', (x) => x.replace('href="c0.xhtml"', 'href="../../../etc/passwd"'))),
  ],
  [
    'a broken address of a chapter',
    'epub',
    book((f) => swapped(f, 'OEBPS/book.opf', (x) => x.replace('href="c0.xhtml"', 'href="%E0%A4%A"'))),
  ],
  ['no package', 'epub', () => zipOf({ mimetype: 'application/epub+zip' })],
  [
    'boundaries in boundaries',
    'mail',
    () =>
      Buffer.from(
        `Content-Type: multipart/mixed; boundary=b\n\n${'--b\nContent-Type: multipart/mixed; boundary=b\n\n'.repeat(3_000)}`,
      ),
  ],
  [
    'very many parts',
    'mail',
    () => Buffer.from(`Content-Type: multipart/mixed; boundary=b\n\n${'--b\n\nx\n'.repeat(5_000)}`),
  ],
  ['very many headers', 'mail', () => Buffer.from(`${'X-A: b\n'.repeat(100_000)}\n\nx`)],
  ['messages in messages', 'mail', () => Buffer.from('Content-Type: message/rfc822\n\n'.repeat(100))],
  [
    'a boundary that is a pattern',
    'mail',
    () =>
      Buffer.from('Content-Type: multipart/mixed; boundary="(a+)+$"\n\n--(a+)+$\nContent-Type: text/html\n\n<img>\n'),
  ],
  ['a header that was folded for ever', 'mail', () => Buffer.from(`Subject: x\n${' y\n'.repeat(50_000)}\nz`)],
  ['no header', 'mail', () => Buffer.from('\u0000\u0001')],
  ['deep quotes', 'markdown', () => Buffer.from(`${'>'.repeat(2_000)} ![x](y)`)],
  ['brackets without end', 'markdown', () => Buffer.from('!['.repeat(5_000))],
  ['emphasis without end', 'markdown', () => Buffer.from('*a **b '.repeat(2_000))],
  ['references to themselves', 'markdown', () => Buffer.from('![a][a]\n\n[a]: #a\n')],
  [
    'front matter of aliases',
    'markdown',
    () =>
      Buffer.from(
        `---\na: &a [x,x,x,x,x,x,x,x,x]\nb: &b [*a,*a,*a,*a,*a,*a,*a,*a,*a]\nc: &c [*b,*b,*b,*b,*b,*b,*b,*b,*b]\nimage: *c\n---\n![x](y)`,
      ),
  ],
  ['entities in entities', 'svg', () => Buffer.from(`${ENTITIES}<svg xmlns="http://www.w3.org/2000/svg"/>`)],
  ['deep nesting', 'svg', () => Buffer.from(`<svg xmlns="http://www.w3.org/2000/svg">${deep('g', 20_000)}</svg>`)],
  ['a bomb', 'svg', () => gzipSync(Buffer.alloc(60_000_000))],
  ['nothing but a header', 'pdf', () => Buffer.from('%PDF-1.7\n')],
  [
    'a table that leads to itself',
    'pdf',
    () =>
      Buffer.from(
        '%PDF-1.7\nxref\n0 1\n0000000000 65535 f \ntrailer\n<< /Size 1 /Root 1 0 R /Prev 9 >>\nstartxref\n9\n%%EOF',
      ),
  ],
  [
    'pages that are their own children',
    'pdf',
    () =>
      Buffer.from(
        '%PDF-1.7\n1 0 obj\n<< /Type /Catalog /Pages 2 0 R >>\nendobj\n2 0 obj\n<< /Type /Pages /Kids [2 0 R] /Count 9999999 >>\nendobj\ntrailer\n<< /Root 1 0 R >>\n%%EOF',
      ),
  ],
  [
    'arrays in arrays',
    'pdf',
    () =>
      Buffer.from(
        `%PDF-1.7\n1 0 obj\n${'['.repeat(2_000)}${']'.repeat(2_000)}\nendobj\ntrailer\n<< /Root 1 0 R >>\n%%EOF`,
      ),
  ],
];

test('there are enough of them', () => expect(CASES.length).toBeGreaterThanOrEqual(60));

test.each(CASES)('%s in %s', async (_, id, made) => {
  const bytes = await made();
  const format = formatById(id);
  const read = await format.read(bytes).catch((error: unknown) => error);
  if (read instanceof Error) {
    expect(read).toBeInstanceOf(DocumentError);
    return;
  }
  const { pages } = read as Awaited<ReturnType<typeof format.read>>;
  for (const { reading } of pages)
    for (const { markup } of reading.appearances) {
      expect(markup.svg ?? '').not.toContain('<script');
      if (markup.src === null || !format.picture || /^[a-z]+:/i.test(markup.src)) continue;
      // What is no part of it is not there, whatever its name.
      const held = await format.picture(bytes, markup.src).catch((error: unknown) => error);
      if (held instanceof Error) expect(held).toBeInstanceOf(DocumentError);
      else expect(Buffer.from(held as Uint8Array).toString('latin1')).not.toContain('root:');
    }
});

test('a text of any kind is written as text', async () => {
  const docx = formatById('docx');
  const bytes = await plain();
  const evil = '"/><w:p><w:r><w:t>x</w:t></w:r></w:p>]]>\u0000\u0008&#x0;';
  const { bytes: after } = await docx.write(bytes, [{ fragment: null, order: 0, text: evil }]);
  const { pages } = await docx.read(after);
  expect(pages[0]!.reading.appearances.map((a) => a.accessible.name)).toEqual([evil.replace(/[\u0000\u0008]/g, '')]);
});
