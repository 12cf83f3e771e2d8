import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { jest } from '@jest/globals';
import { formatById, formatOfName } from '../src/core/formats';
import { ZipFile } from '../src/core/formats/zip/zip-file';
import { writeProved } from '../src/core/formats/write-proved';
import type { Edit } from '../src/core/model/document';
import { writtenWords } from '../src/core/model/wording';
import { picturesFolder } from './art/render';
import { documentsFolder } from './documents';

/**
 * The demo's documents, worded and read again by readers that are not ours: python3-docx, lxml, odfpy (Debian), and qpdf.
 * They are the same each time they are made, and of a worded one only the parts with words differ.
 */
const root = mkdtempSync(path.join(tmpdir(), 'detto-demo-documents-'));
let folder: string;
jest.setTimeout(240_000);
beforeAll(async () => {
  folder = await documentsFolder(await picturesFolder(path.resolve('dist/demo-pictures')), path.join(root, 'made'));
});
afterAll(() => rmSync(root, { recursive: true, force: true }));

const WORDS = 'Zwei Möwen & “ein” Boot';
const FILES = ['leaflet.docx', 'talk.pptx', 'fares.xlsx', 'field-guide.epub', 'harbour-notice.pdf'];

/** A text at every place of a document that takes one. */
async function worded(file: string) {
  const bytes = readFileSync(path.join(folder, file));
  const format = formatById(formatOfName(file)!);
  const { pages } = await format.read(bytes, { name: file });
  const edits = pages.flatMap((p) =>
    p.reading.appearances.map((a): Edit => ({ fragment: p.fragment, order: a.order, text: WORDS })),
  );
  return {
    edits,
    ...(await format.write(bytes, edits, { name: file, modified: '2026-11-28T08:40:00Z' })),
    before: bytes,
  };
}

/** What Python's readers count and find, one answer a file. */
function counted(paths: string[]): { pictures: number; words: string[] }[] {
  const run = spawnSync('/usr/bin/python3', ['bench/documents/count.py'], { input: paths.join('\n') });
  expect(run.stderr.toString()).toBe('');
  return run.stdout
    .toString()
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as { pictures: number; words: string[] });
}

test.each(FILES.filter((f) => !f.endsWith('.pdf')))(
  '%s: words are found by another reader, and nothing else changed',
  async (file) => {
    const { before, bytes, changes, refusals, edits } = await worded(file);
    expect([refusals, changes.length]).toEqual([[], edits.length]);
    const target = path.join(root, file);
    writeFileSync(target, bytes);
    const [old, fresh] = counted([path.join(folder, file), target]);
    expect(fresh!.pictures).toBe(old!.pictures);
    expect(fresh!.words.filter((w) => w === WORDS).length).toBeGreaterThanOrEqual(edits.length);
    const [a, b] = [await ZipFile.open(before), await ZipFile.open(Buffer.from(bytes))];
    const may = new Set([...changes.map((c) => c.file!), 'EPUB/package.opf']);
    expect(a.names.filter((n) => !a.read(n).equals(b.read(n)) && !may.has(n))).toEqual([]);
  },
);

test('harbour-notice.pdf: qpdf finds no fault, and the words at the figures', async () => {
  const { bytes, refusals } = await worded('harbour-notice.pdf');
  expect(refusals.map((r) => r.reason.id)).toEqual(['refusal.untagged', 'refusal.untagged']);
  const target = path.join(root, 'notice.pdf');
  writeFileSync(target, bytes);
  expect(spawnSync('qpdf', ['--check', target]).status).toBe(0);
  const json = spawnSync('qpdf', ['--json', target], { maxBuffer: 1 << 28 }).stdout.toString();
  expect(json.split(JSON.stringify(WORDS).slice(1, -1)).length - 1).toBe(2);
});

test('they are the same each time they are made', async () => {
  const again = await documentsFolder(path.resolve('dist/demo-pictures'), path.join(root, 'again'));
  for (const file of [...FILES, 'newsletter.eml', 'README.md'])
    expect(readFileSync(path.join(again, file)).equals(readFileSync(path.join(folder, file)))).toBe(true);
});

test.each([...FILES, 'newsletter.eml', 'README.md'])(
  '%s, given the words that it has, is the same to the byte',
  async (file) => {
    const bytes = readFileSync(path.join(folder, file));
    const format = formatById(formatOfName(file)!);
    const { pages } = await format.read(bytes, { name: file });
    const edits = pages.flatMap((p) =>
      p.reading.appearances.flatMap((a): Edit[] => {
        const text = writtenWords(a);
        return text === null ? [] : [{ fragment: p.fragment, order: a.order, text }];
      }),
    );
    expect(edits.length).toBeGreaterThan(0);
    const written = await writeProved(format, bytes, edits, { name: file, modified: '2026-11-28T08:40:00Z' });
    expect(Buffer.from(written.bytes).equals(bytes)).toBe(true);
    expect([written.changes, written.refusals]).toEqual([[], []]);
  },
);
