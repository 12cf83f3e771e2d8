import { escaped, XML, zipped } from './package';

const chapter = (title: string, body: string) =>
  `${XML.replace(' standalone="yes"', '')}<!DOCTYPE html>\n<html xmlns="http://www.w3.org/1999/xhtml" xmlns:epub="http://www.idpf.org/2007/ops" lang="en-GB" xml:lang="en-GB">\n<head><title>${escaped(title)}</title></head>\n<body>\n${body}\n</body>\n</html>\n`;

const CHAPTERS: [file: string, title: string, body: string][] = [
  [
    'puffin.xhtml',
    'The puffin',
    `<h1>The puffin</h1>
<p>It stands as high as a milk bottle, and digs its burrow with its bill.</p>
<figure><img src="../pictures/puffin.jpg"/><figcaption>A pair of puffins on the Holm, June</figcaption></figure>
<p>Look for orange feet, and for sand eels in the bill.</p>`,
  ],
  [
    'kittiwake.xhtml',
    'The kittiwake',
    `<h1>The kittiwake</h1>
<p>The small gull with the black wing tips calls its own name.</p>
<p><img src="../pictures/ledges.jpg" alt="ledges.jpg"/></p>
<p>Kittiwakes breed on the ledges below the lighthouse, out of reach.</p>`,
  ],
  [
    'seal.xhtml',
    'The grey seal',
    `<h1>The grey seal</h1>
<p>Grey seals rest on the skerries at low tide. Keep the distance of a boat.</p>
<p><img src="../pictures/map.png" alt="Where the seals rest: three skerries west of the harbour of Brannoch"/></p>`,
  ],
];

/** The field guide: a cover and three chapters (EPUB 3.3). */
export function fieldGuide(picturesAt: (file: string) => Buffer): Promise<Buffer> {
  const cover = chapter(
    'Cover',
    '<section epub:type="cover"><img src="../pictures/cover.jpg" alt="Birds and Seals of Skerry Sound, a field guide: a white lighthouse on a green island"/></section>',
  );
  const nav = chapter(
    'Contents',
    `<nav epub:type="toc"><h1>Contents</h1><ol>${CHAPTERS.map(([file, title]) => `<li><a href="${file}">${title}</a></li>`).join('')}</ol></nav>`,
  );
  const items = [
    '<item id="nav" href="text/nav.xhtml" media-type="application/xhtml+xml" properties="nav"/>',
    '<item id="cover" href="text/cover.xhtml" media-type="application/xhtml+xml"/>',
    ...CHAPTERS.map(([file], i) => `<item id="c${i + 1}" href="text/${file}" media-type="application/xhtml+xml"/>`),
    '<item id="p1" href="pictures/cover.jpg" media-type="image/jpeg" properties="cover-image"/>',
    '<item id="p2" href="pictures/puffin.jpg" media-type="image/jpeg"/>',
    '<item id="p3" href="pictures/ledges.jpg" media-type="image/jpeg"/>',
    '<item id="p4" href="pictures/map.png" media-type="image/png"/>',
  ];
  const opf = `<?xml version="1.0" encoding="UTF-8"?>
<package xmlns="http://www.idpf.org/2007/opf" version="3.0" unique-identifier="id" xml:lang="en-GB">
  <metadata xmlns:dc="http://purl.org/dc/elements/1.1/">
    <dc:identifier id="id">urn:uuid:5c3f0f0e-8a51-4d0b-9a5e-2f4f2f0d1a11</dc:identifier>
    <dc:title>Birds and Seals of Skerry Sound</dc:title>
    <dc:language>en-GB</dc:language>
    <meta property="dcterms:modified">2026-03-01T08:00:00Z</meta>
  </metadata>
  <manifest>
    ${items.join('\n    ')}
  </manifest>
  <spine>
    <itemref idref="cover"/>
    <itemref idref="nav"/>
    ${CHAPTERS.map((_, i) => `<itemref idref="c${i + 1}"/>`).join('')}
  </spine>
</package>
`;
  return zipped([
    ['mimetype', 'application/epub+zip'],
    [
      'META-INF/container.xml',
      '<?xml version="1.0"?>\n<container version="1.0" xmlns="urn:oasis:names:tc:opendocument:xmlns:container"><rootfiles><rootfile full-path="EPUB/package.opf" media-type="application/oebps-package+xml"/></rootfiles></container>\n',
    ],
    ['EPUB/package.opf', opf],
    ['EPUB/text/nav.xhtml', nav],
    ['EPUB/text/cover.xhtml', cover],
    ...CHAPTERS.map(([file, title, body]) => [`EPUB/text/${file}`, chapter(title, body)] as const),
    ['EPUB/pictures/cover.jpg', picturesAt('lighthouse.jpg')],
    ['EPUB/pictures/puffin.jpg', picturesAt('IMG_2046.jpg')],
    ['EPUB/pictures/ledges.jpg', picturesAt('kittiwakes.jpg')],
    ['EPUB/pictures/map.png', picturesAt('harbour-map.png')],
  ]);
}
