import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Scope } from '@/contract/scope';
import { bookFiles, inline, odfFiles, paragraph, PIXEL, wordOf, zipOf } from '@/core/formats/testing/packages';
import { gif, DOT, TestSite, type Handler } from '../testing/site';
import { parseAllowed } from '../net/allowed';
import { ReaderPool } from '../workers/reader-pool';
import { FileSource } from './file-source';
import { FolderTree } from './folder-tree';
import { MemoryStore } from './memory-store';
import { SiteSource } from './site-source';
import type { Source } from './source';
import { SurveyRun } from './survey-run';
import { ZipTree } from './zip-tree';

/** Documents in a survey: alone, in folders and ZIPs, behind links, in course packages (IMS Content Packaging 1.1.4, SCORM). */
const root = mkdtempSync(path.join(tmpdir(), 'detto-survey-documents-'));
let readers: ReaderPool;
let site: TestSite;
let handler: Handler = () => undefined;
beforeAll(async () => {
  readers = new ReaderPool(1);
  site = await TestSite.open((request) => handler(request));
});
afterAll(async () => {
  readers.close();
  await site.close();
  rmSync(root, { recursive: true, force: true });
});

async function surveyed(source: Source): Promise<MemoryStore> {
  const store = new MemoryStore(1_000);
  await new SurveyRun(source, store, readers, { maxDepth: 5, concurrency: 2, reading: 'source' }).gather();
  await source.close();
  return store;
}
let folders = 0;
async function folderOf(files: Record<string, string | Buffer>): Promise<string> {
  const folder = path.join(root, `f${++folders}`);
  for (const [name, content] of Object.entries(files)) {
    mkdirSync(path.dirname(path.join(folder, name)), { recursive: true });
    writeFileSync(path.join(folder, name), content);
  }
  return folder;
}
const inFolder = async (files: Record<string, string | Buffer>) =>
  surveyed(new FileSource(await FolderTree.open(await folderOf(files))));
const LEAFLET = () => wordOf(paragraph(inline('<wp:docPr id="1" name="A"/>')));

test('a folder of mixed documents: pages, their pictures, what is left out and why', async () => {
  const store = await inFolder({
    'leaflet.docx': await LEAFLET(),
    'sub/guide.epub': await zipOf(bookFiles(['<img src="a.png"/>', '<p/>'])),
    'sub/note.odt': await zipOf(
      odfFiles(
        'text',
        '<text:p><draw:frame draw:name="A"><draw:image xlink:href="../picture.gif"/></draw:frame></text:p>',
      ),
    ),
    'sub/picture.gif': gif(20, 10),
    'read.md': '![](sub/picture.gif)',
    'page.html': '<img src="drawing.svg">',
    'drawing.svg': '<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"/>',
    '~$leaflet.docx': 'lock',
    'old.doc': 'x',
    'broken.docx': 'x',
    'letter.eml': 'Subject: x\n\nplain',
  });
  expect(store.pages.map((p) => [p.address, p.format, p.document]).sort()).toEqual([
    ['leaflet.docx', 'docx', null],
    ['page.html', 'html', null],
    ['read.md', 'markdown', null],
    ['sub/guide.epub#chapter=1', 'epub', 'sub/guide.epub'],
    ['sub/guide.epub#chapter=2', 'epub', 'sub/guide.epub'],
    ['sub/note.odt', 'odt', null],
  ]);
  // A picture beside the document is a file of its own; a drawing that a page shows is no document.
  expect([...store.pictures.keys()].sort()).toEqual([
    'drawing.svg',
    'leaflet.docx!/word/media/image1.png',
    'sub/guide.epub!/OEBPS/a.png',
    'sub/picture.gif',
  ]);
  const held = store.pictures.get('leaflet.docx!/word/media/image1.png')!;
  expect(held.found && held.reading).toMatchObject({ type: 'image/png', bytes: PIXEL.length, width: 1, height: 1 });
  expect(store.skipped.map((s) => [s.address, s.reason.id]).sort()).toEqual([
    ['broken.docx', 'document.damaged'],
    ['old.doc', 'document.old'],
  ]);
  expect(store.notes).toEqual([{ address: 'letter.eml', note: { id: 'document.no-html' } }]);
  const signed = 'Subject: x\r\nDKIM-Signature: v=1; d=isle.example\r\n\r\nhello';
  const both = await inFolder({ 'a.html': '<img src=a>', 'signed.eml': signed });
  expect(both.notes.map((n) => n.note)).toEqual([
    { id: 'note.both', values: { first: { id: 'document.no-html' }, second: { id: 'document.dkim' } } },
  ]);
});

test('drawings alone are documents; one file alone is one document', async () => {
  const drawing = '<svg xmlns="http://www.w3.org/2000/svg"><title>Quay</title></svg>';
  const store = await inFolder({ 'a.svg': drawing, 'b.svg': drawing });
  expect(store.pages.map((p) => [p.address, p.reading.appearances[0]!.accessible.name]).sort()).toEqual([
    ['a.svg', 'Quay'],
    ['b.svg', 'Quay'],
  ]);
  const folder = await folderOf({ 'leaflet.docx': await LEAFLET(), 'other.docx': await LEAFLET() });
  const one = await surveyed(new FileSource(await FolderTree.open(path.join(folder, 'leaflet.docx'))));
  expect(one.pages.map((p) => p.address)).toEqual(['leaflet.docx']);
});

const MANIFEST = `<manifest xmlns="http://www.imsglobal.org/xsd/imscp_v1p1" xmlns:xml="http://www.w3.org/XML/1998/namespace"><organizations><organization><item identifierref="r2"><title>First lesson</title></item><item><title>Part</title><item identifierref="r1"><title>Second &amp; last</title></item></item></organization></organizations><resources xml:base="content/"><resource identifier="r1" href="a%20page.html?x=1"/><resource identifier="r2" xml:base="deep/" href="b.html"/><resource identifier="r3"/></resources></manifest>`;

test('a course package is read in its own order, with its own titles', async () => {
  const bytes = await zipOf({
    'imsmanifest.xml': MANIFEST,
    'content/a page.html': '<title>A</title><img src="d.gif">',
    'content/deep/b.html': '<title>B</title>',
    'content/d.gif': DOT,
    'extra.html': '<title>Extra</title>',
  });
  const store = await surveyed(new FileSource(await ZipTree.open(bytes)));
  const byRank = [...store.pages].sort((a, b) => (a.rank ?? 99) - (b.rank ?? 99));
  expect(byRank.map((p) => [p.address, p.rank, p.reading.title])).toEqual([
    ['content/deep/b.html', 0, 'First lesson'],
    ['content/a page.html', 1, 'Second & last'],
    ['extra.html', null, 'Extra'],
  ]);
});

test('a manifest that cannot be read costs the order, and nothing else', async () => {
  const store = await inFolder({
    'imsmanifest.xml': '<!DOCTYPE a [<!ENTITY x "y">]><a/>',
    'a.html': '<title>A</title>',
  });
  expect(store.pages.map((p) => p.reading.title)).toEqual(['A']);
  expect(store.skipped).toEqual([
    { address: 'imsmanifest.xml', reason: { id: 'document.dtd', values: { part: 'imsmanifest.xml' } } },
  ]);
});

describe('on a site', () => {
  const DOCX = 'application/vnd.openxmlformats-officedocument.wordprocessingml.document';
  const serve = (leaflet: Buffer, type = DOCX) => {
    handler = ({ url }) => {
      if (url === '/') return { body: '<title>T</title><a href="/leaflet.docx">Leaflet</a><a href="/x.zip">x</a>' };
      if (url === '/leaflet.docx') return { headers: { 'content-type': type }, body: leaflet };
      return undefined;
    };
  };
  const at = (start: string, scope: Partial<Scope> = {}) =>
    new SiteSource(`${site.origin}${start}`, { allowed: [parseAllowed(new URL(site.origin).host)], scope });

  test('linked documents are read only where that is wanted', async () => {
    serve(await LEAFLET());
    const without = await surveyed(at('/'));
    expect(without.pages.map((p) => p.format)).toEqual(['html']);
    const wanted = await surveyed(at('/', { documents: true }));
    expect(wanted.pages.map((p) => [p.address.replace(site.origin, ''), p.format])).toEqual([
      ['/', 'html'],
      ['/leaflet.docx', 'docx'],
    ]);
    expect([...wanted.pictures.keys()].map((a) => a.replace(site.origin, ''))).toEqual([
      '/leaflet.docx!/word/media/image1.png',
    ]);
  });

  test.each([DOCX, 'application/octet-stream', 'application/zip'])(
    'an address of a document is enough, sent as %s',
    async (type) => {
      serve(await LEAFLET(), type);
      const store = await surveyed(at('/leaflet.docx', { follow: false }));
      expect(store.pages.map((p) => p.format)).toEqual(['docx']);
    },
  );
});
