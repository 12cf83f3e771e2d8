import type { DocumentError } from '../document-error';
import { bookFiles, PIXEL, zipOf } from '../testing/packages';
import { appearancesOf, shown, writeTexts } from '../testing/round-trip';
import { ZipFile } from '../zip/zip-file';
import { epub } from './index';

/** Books (EPUB 3.3, OPF 2.0.1): XHTML read as XML, so that `<iframe/>` and `<script/>` end where they end. */
const partOf = async (bytes: Uint8Array, part: string) =>
  (await ZipFile.open(Buffer.from(bytes))).read(part).toString('utf8');
const MODIFIED = '<meta property="dcterms:modified">2020-01-01T00:00:00Z</meta>';
const CHAPTERS = [
  '<h1>One</h1><iframe src="x"/><p>Before &amp; more.</p><figure><img src="a.png"/><figcaption>The quay</figcaption></figure>',
  '<p><svg xmlns="http://www.w3.org/2000/svg"><title>Cover</title><image xlink:href="a.png"/></svg></p><p><img src="a.png" alt="A boat" role="presentation"/><img alt=\'Two\' src="https://isle.example/b.png"/></p>',
];

test('chapters in the order of the spine, with what stands around their pictures', async () => {
  const bytes = await zipOf(bookFiles(CHAPTERS));
  expect(await shown(epub, bytes)).toEqual({
    'chapter=1': ['p>svg: described “Cover”', 'p>img: decorative “”', 'p>img (2): described “Two”'],
    'chapter=2': ['figure>img: missing “”'],
  });
  const { pages, notes } = await epub.read(bytes);
  expect([pages[0]!.reading.title, pages[1]!.reading.title, notes]).toEqual(['Isle: c1', 'Isle: One', []]);
  const [cover, , far, quay] = await appearancesOf(epub, bytes);
  expect([cover!.markup.src, cover!.markup.svg, far!.markup.src]).toEqual([
    'OEBPS/a.png',
    null,
    'https://isle.example/b.png',
  ]);
  expect(quay!.context).toMatchObject({ caption: 'The quay', before: 'Before & more.', lang: 'en' });
  expect(Buffer.from(await epub.picture!(bytes, cover!.markup.src!)).equals(PIXEL)).toBe(true);
  expect(await epub.markup!(bytes, 'chapter=2')).toContain('<h1>One</h1>');
});

test('words are put into attributes and titles; of the package document only time and features change', async () => {
  const bytes = await zipOf(bookFiles(CHAPTERS, '3.0', MODIFIED));
  const first = await writeTexts(epub, bytes, ['New cover', 'A boat & “more”', null], {
    fragment: 'chapter=1',
    modified: '2026-11-28T08:40:00Z',
  });
  const chapter = await partOf(first.bytes, 'OEBPS/c1.xhtml');
  expect(chapter).toContain('<svg xmlns="http://www.w3.org/2000/svg"><title>New cover</title>');
  expect(chapter).toContain('<img src="a.png" alt="A boat &amp; “more”"/>');
  expect(chapter).toContain(`<img alt='Two' src=`);
  // One picture is still without words, so nothing is claimed.
  expect([first.warnings, await partOf(first.bytes, 'OEBPS/book.opf')]).toEqual([
    [],
    (await partOf(bytes, 'OEBPS/book.opf')).replace('2020-01-01T00:00:00Z', '2026-11-28T08:40:00Z'),
  ]);
  const second = await writeTexts(epub, first.bytes, [''], { fragment: 'chapter=2' });
  expect(second.warnings?.map((w) => w.id)).toEqual(['document.epub-feature', 'document.epub-summary-proposed']);
  expect(await partOf(second.bytes, 'OEBPS/book.opf')).not.toContain('schema:accessibilitySummary');
  expect(await partOf(second.bytes, 'OEBPS/book.opf')).toContain(
    '<meta property="schema:accessibilityFeature">alternativeText</meta>',
  );
  const [a, b] = [await ZipFile.open(bytes), await ZipFile.open(Buffer.from(second.bytes))];
  expect(b.startsWithStored('mimetype')).toBe(true);
  expect(a.names.filter((n) => !a.read(n).equals(b.read(n)))).toEqual([
    'OEBPS/book.opf',
    'OEBPS/c0.xhtml',
    'OEBPS/c1.xhtml',
  ]);
});

test('an EPUB 2 with named entities keeps its metadata’s own way', async () => {
  const files = bookFiles(['<p>Fr&uuml;h&nbsp;am Kai</p><img src="a.png" alt=""/>'], '2.0', MODIFIED);
  files['OEBPS/c0.xhtml'] = (files['OEBPS/c0.xhtml'] as string).replace(
    '<html',
    '<!DOCTYPE html PUBLIC "-//W3C//DTD XHTML 1.1//EN" "http://www.w3.org/TR/xhtml11/DTD/xhtml11.dtd"><html',
  );
  const bytes = await zipOf(files);
  expect((await appearancesOf(epub, bytes))[0]!.context.before).toBe('Früh\u00a0am Kai');
  const { bytes: after } = await writeTexts(epub, bytes, ['Kai'], {
    fragment: 'chapter=1',
    modified: '2026-11-28T08:40:00Z',
  });
  const opf = await partOf(after, 'OEBPS/book.opf');
  expect(opf).toContain('<meta name="schema:accessibilityFeature" content="alternativeText"/>');
  expect(opf).toContain('2020-01-01T00:00:00Z');
});

test('an EPUB 2 gets no ARIA: a drawing gets a title, and is not marked as decorative', async () => {
  const drawing = (inner: string) => `<svg xmlns="http://www.w3.org/2000/svg">${inner}</svg>`;
  const chapter = `${drawing('<image xlink:href="a.png"/>')}<p><svg:svg xmlns:svg="http://www.w3.org/2000/svg"/></p>${drawing('<rect/>')}<img src="a.png"/>`;
  const bytes = await zipOf(bookFiles([chapter], '2.0', MODIFIED));
  const { bytes: after, refusals } = await writeTexts(epub, bytes, ['The quay', 'Waves', '', ''], {
    fragment: 'chapter=1',
  });
  expect(refusals.map((r) => [r.order, r.reason.id])).toEqual([[2, 'refusal.epub2']]);
  const written = await partOf(after, 'OEBPS/c0.xhtml');
  expect(written).toContain('<svg xmlns="http://www.w3.org/2000/svg"><title>The quay</title><image');
  expect(written).toContain('<svg:svg xmlns:svg="http://www.w3.org/2000/svg"><svg:title>Waves</svg:title></svg:svg>');
  expect(written).not.toMatch(/aria-|role=/);
  expect((await appearancesOf(epub, after)).map((a) => [a.state, a.accessible.name])).toEqual([
    ['described', 'The quay'],
    ['described', 'Waves'],
    ['missing', ''],
    ['decorative', ''],
  ]);
});

test('a summary is added where that is wanted, in the language of the book, and never a second one', async () => {
  const german = (version: string) => {
    const files = bookFiles(['<img src="a.png"/>'], version, MODIFIED);
    files['OEBPS/book.opf'] = (files['OEBPS/book.opf'] as string).replace(/(<dc:language[^>]*>)[^<]*/, '$1de-AT');
    return zipOf(files);
  };
  const write = (bytes: Uint8Array, summary: string, adds: 'summary' | 'nothing' = 'summary', text = 'Kai') =>
    writeTexts(epub, bytes, [text], { fragment: 'chapter=1', book: { adds, summary } });
  const first = await write(await german('3.0'), '');
  const opf = await partOf(first.bytes, 'OEBPS/book.opf');
  expect(opf).toContain('<meta property="schema:accessibilitySummary">Alle Bilder haben einen Alternativtext oder');
  expect(first.warnings?.map((w) => w.id)).toEqual(['document.epub-feature', 'document.epub-summary']);
  const again = await write(first.bytes, 'Another', 'summary', 'Der Kai');
  expect([again.warnings, await partOf(again.bytes, 'OEBPS/book.opf')]).toEqual([[], opf]);
  const own = await write(await german('2.0'), 'Say “a & b" <c>');
  expect(await partOf(own.bytes, 'OEBPS/book.opf')).toContain(
    '<meta name="schema:accessibilitySummary" content="Say “a &amp; b&quot; &lt;c&gt;"/>',
  );
  const silent = await write(await german('3.0'), '', 'nothing');
  expect([silent.warnings, await partOf(silent.bytes, 'OEBPS/book.opf')]).toEqual([
    [],
    await partOf(await german('3.0'), 'OEBPS/book.opf'),
  ]);
});

test('a chapter that cannot be read is left out and named; the others are read', async () => {
  const files = bookFiles(['<p>', '<img src="a.png" alt="x"/>']);
  const { pages, notes } = await epub.read(await zipOf(files));
  expect([pages.length, notes[0]!.id, notes[0]!.values!['part']]).toEqual([
    1,
    'document.part-unreadable',
    'OEBPS/c0.xhtml',
  ]);
});

test('a drawing that its own title names by aria-labelledby gets its words there; one that a text on the page names does not', async () => {
  const drawing = (labels: string, inner: string) =>
    `<p><svg xmlns="http://www.w3.org/2000/svg" role="img" aria-labelledby="${labels}">${inner}<path d="M0 0h9"/></svg></p>`;
  const bytes = await zipOf(
    bookFiles([
      drawing('t d', '<title id="t">Tides</title><desc id="d">in June</desc>') +
        drawing('h', '') +
        drawing('s', '<text id="s">Seen</text>') +
        '<h2 id="h">High water</h2>',
    ]),
  );
  const { bytes: after, refusals } = await writeTexts(epub, bytes, ['High & low', 'x', 'y'], { fragment: 'chapter=1' });
  const chapter = await partOf(after, 'OEBPS/c0.xhtml');
  expect(chapter).toContain('aria-labelledby="t"><title id="t">High &amp; low</title><desc id="d">in June</desc>');
  expect(chapter).toContain('<h2 id="h">High water</h2>');
  expect(chapter).toContain('<text id="s">Seen</text>');
  expect(refusals.map((r) => [r.order, r.reason.id])).toEqual([
    [1, 'refusal.labelledby'],
    [2, 'refusal.labelledby'],
  ]);
});

test.each([
  [
    'protected',
    '<e xmlns:x="x"><x:EncryptionMethod Algorithm="http://www.w3.org/2001/04/xmlenc#aes256-cbc"/></e>',
    'document.drm',
  ],
  [
    'with obfuscated fonts',
    '<e xmlns:x="x"><x:EncryptionMethod Algorithm="http://www.idpf.org/2008/embedding"/></e>',
    'written',
  ],
])('a book %s', async (_, encryption, reason) => {
  const bytes = await zipOf({ ...bookFiles(['<img src="a.png"/>']), 'META-INF/encryption.xml': encryption });
  const done = await writeTexts(epub, bytes, ['x'], { fragment: 'chapter=1' }).then(
    () => 'written',
    (error: unknown) => (error as DocumentError).reason.id,
  );
  expect(done).toBe(reason);
});
