import yazl from 'yazl';

export type Files = Record<string, string | Buffer>;

/** Files as a ZIP; `mimetype` is stored. */
export async function zipOf(files: Files): Promise<Buffer> {
  const zip = new yazl.ZipFile();
  for (const [name, content] of Object.entries(files))
    zip.addBuffer(Buffer.from(content as string), name, { compress: name !== 'mimetype', mtime: new Date(2026, 1, 1) });
  zip.end();
  const parts: Buffer[] = [];
  for await (const part of zip.outputStream as unknown as AsyncIterable<Buffer>) parts.push(part);
  return Buffer.concat(parts);
}

/** A picture of one pixel. */
export const PIXEL = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
);

const OFFICE = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const TYPES =
  '<?xml version="1.0"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="xml" ContentType="application/xml"/></Types>';

/** Relationships by id: the last step of the type, and the target. */
export const rels = (all: Record<string, [type: string, target: string]>): string =>
  `<?xml version="1.0"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">${Object.entries(
    all,
  )
    .map(([id, [type, target]]) => {
      const external = /^https?:/.test(target) ? ' TargetMode="External"' : '';
      return `<Relationship Id="${id}" Type="${OFFICE}/${type}" Target="${target}"${external}/>`;
    })
    .join('')}</Relationships>`;

/** Namespaces as office programs declare them. */
export const NAMESPACES =
  'xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships" xmlns:wp="http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing" xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" xmlns:pic="http://schemas.openxmlformats.org/drawingml/2006/picture" xmlns:mc="http://schemas.openxmlformats.org/markup-compatibility/2006" xmlns:v="urn:schemas-microsoft-com:vml" xmlns:p="http://schemas.openxmlformats.org/presentationml/2006/main" xmlns:wpg="http://schemas.microsoft.com/office/word/2010/wordprocessingGroup" xmlns:wps="http://schemas.microsoft.com/office/word/2010/wordprocessingShape" xmlns:o="urn:schemas-microsoft-com:office:office"';

/** A picture in the line, as Word writes it. */
export const inline = (frame: string, inner = '<pic:cNvPr id="0" name="a.png"/>'): string =>
  `<w:drawing><wp:inline><wp:extent cx="952500" cy="476250"/>${frame}<a:graphic><a:graphicData uri="http://schemas.openxmlformats.org/drawingml/2006/picture"><pic:pic><pic:nvPicPr>${inner}<pic:cNvPicPr/></pic:nvPicPr><pic:blipFill><a:blip r:embed="rId1"/></pic:blipFill><pic:spPr/></pic:pic></a:graphicData></a:graphic></wp:inline></w:drawing>`;

export const paragraph = (inner: string, style?: string): string =>
  `<w:p>${style ? `<w:pPr><w:pStyle w:val="${style}"/></w:pPr>` : ''}<w:r>${inner}</w:r></w:p>`;
export const text = (words: string): string => `<w:t>${words}</w:t>`;

const STYLES = `<?xml version="1.0"?><w:styles ${NAMESPACES}><w:docDefaults><w:rPrDefault><w:rPr><w:lang w:val="de-DE"/></w:rPr></w:rPrDefault></w:docDefaults><w:style w:styleId="berschrift1"><w:name w:val="heading 1"/></w:style><w:style w:styleId="Beschriftung"><w:name w:val="caption"/></w:style></w:styles>`;

/** The files of a text document with one picture file. */
export const wordFiles = (body: string, more: Files = {}): Files => ({
  '[Content_Types].xml': TYPES,
  '_rels/.rels': rels({ rId1: ['officeDocument', 'word/document.xml'] }),
  'word/document.xml': `<?xml version="1.0" encoding="UTF-8"?><w:document ${NAMESPACES}><w:body>${body}</w:body></w:document>`,
  'word/_rels/document.xml.rels': rels({
    rId1: ['image', 'media/image1.png'],
    rId2: ['styles', 'styles.xml'],
    rId3: ['hyperlink', 'https://isle.example/'],
  }),
  'word/styles.xml': STYLES,
  'word/media/image1.png': PIXEL,
  ...more,
});
export const wordOf = (body: string, more: Files = {}): Promise<Buffer> => zipOf(wordFiles(body, more));

/** A presentation of slides with these shape trees; each may name one picture, `rId1`. */
export function slidesOf(trees: readonly string[], more: Files = {}): Promise<Buffer> {
  const ids = trees.map((_, i) => `<p:sldId id="${256 + i}" r:id="rId${i + 1}"/>`).join('');
  const files: Files = {
    '[Content_Types].xml': TYPES,
    '_rels/.rels': rels({ rId1: ['officeDocument', 'ppt/presentation.xml'] }),
    'ppt/presentation.xml': `<?xml version="1.0"?><p:presentation ${NAMESPACES}><p:sldIdLst>${ids}</p:sldIdLst><p:sldSz cx="9144000" cy="6858000"/></p:presentation>`,
    'ppt/_rels/presentation.xml.rels': rels(
      Object.fromEntries(
        trees.map((_, i) => [`rId${i + 1}`, ['slide', `slides/slide${i + 1}.xml`] as [string, string]]),
      ),
    ),
    'ppt/media/image1.png': PIXEL,
  };
  trees.forEach((tree, i) => {
    files[`ppt/slides/slide${i + 1}.xml`] =
      `<?xml version="1.0"?><p:sld ${NAMESPACES}><p:cSld><p:spTree><p:nvGrpSpPr><p:cNvPr id="1" name=""/></p:nvGrpSpPr><p:grpSpPr/>${tree}</p:spTree></p:cSld></p:sld>`;
    files[`ppt/slides/_rels/slide${i + 1}.xml.rels`] = rels({
      rId1: ['image', '../media/image1.png'],
      rId2: ['chart', '../charts/chart1.xml'],
      rId3: ['diagramData', '../diagrams/data1.xml'],
    });
  });
  return zipOf({ ...files, ...more });
}

const ODF = [
  ['office', 'office'],
  ['text', 'text'],
  ['table', 'table'],
  ['draw', 'drawing'],
  ['style', 'style'],
  ['svg', 'svg-compatible'],
]
  .map(([prefix, name]) => `xmlns:${prefix}="urn:oasis:names:tc:opendocument:xmlns:${name}:1.0"`)
  .join(' ');

/** An OpenDocument file of a kind with this in its body. */
export const odfFiles = (kind: 'text' | 'presentation' | 'spreadsheet', body: string, styles = ''): Files => ({
  mimetype: `application/vnd.oasis.opendocument.${kind}`,
  'META-INF/manifest.xml': '<manifest xmlns="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0"/>',
  'content.xml': `<?xml version="1.0" encoding="UTF-8"?><office:document-content ${ODF} xmlns:xlink="http://www.w3.org/1999/xlink" xmlns:loext="urn:org:documentfoundation:names:experimental:office:xmlns:loext:1.0"><office:automatic-styles>${styles}</office:automatic-styles><office:body><office:${kind}>${body}</office:${kind}></office:body></office:document-content>`,
  'Pictures/a.png': PIXEL,
});

/** A book of chapters, each the body of one. */
export function bookFiles(chapters: readonly string[], version = '3.0', metadata = ''): Files {
  const items = chapters
    .map((_, i) => `<item id="c${i}" href="c${i}.xhtml" media-type="application/xhtml+xml"/>`)
    .join('');
  // The spine is another order than the manifest's.
  const spine = chapters.map((_, i) => `<itemref idref="c${chapters.length - 1 - i}"/>`).join('');
  return {
    mimetype: 'application/epub+zip',
    'META-INF/container.xml':
      '<container xmlns="urn:oasis:names:tc:opendocument:xmlns:container" version="1.0"><rootfiles><rootfile full-path="OEBPS/book.opf"/></rootfiles></container>',
    'OEBPS/book.opf': `<?xml version="1.0"?>\n<package xmlns="http://www.idpf.org/2007/opf" version="${version}"><metadata xmlns:dc="http://purl.org/dc/elements/1.1/"><dc:title>Isle</dc:title><dc:language>en</dc:language>${metadata}</metadata><manifest>${items}</manifest><spine>${spine}</spine></package>`,
    ...Object.fromEntries(
      chapters.map((body, i) => [
        `OEBPS/c${i}.xhtml`,
        `<?xml version="1.0"?><html xmlns="http://www.w3.org/1999/xhtml" xmlns:xlink="http://www.w3.org/1999/xlink"><head><title>c${i}</title></head><body>${body}</body></html>`,
      ]),
    ),
    'OEBPS/a.png': PIXEL,
  };
}
