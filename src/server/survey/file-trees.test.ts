import { readFileSync, mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import yazl from 'yazl';
import { strings } from '@/ui/strings';
import { FileSource, isSafePath } from './file-source';
import { FolderTree } from './folder-tree';
import { LIMITS } from './source';
import { ZipTree } from './zip-tree';

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'detto-trees-'));
  mkdirSync(path.join(folder, 'site', 'sub'), { recursive: true });
  writeFileSync(path.join(folder, 'site', 'a.html'), '<p>a');
  writeFileSync(path.join(folder, 'site', 'sub', 'b.htm'), '<p>b');
  writeFileSync(path.join(folder, 'secret.html'), 'secret');
  symlinkSync('.', path.join(folder, 'site', 'circle'));
  symlinkSync('../../site', path.join(folder, 'site', 'sub', 'up'));
  symlinkSync('../secret.html', path.join(folder, 'site', 'out.html'));
  symlinkSync('loop', path.join(folder, 'site', 'loop'));
});
afterAll(() => rmSync(folder, { recursive: true }));

test('a folder is read once, its cyclic links told, and nothing outside it is touched', async () => {
  const source = new FileSource(await FolderTree.open(path.join(folder, 'site')));
  const { addresses, skipped } = await source.seeds();
  expect(addresses).toEqual(['a.html', 'sub/b.htm']);
  expect(Object.fromEntries(skipped.map((s) => [s.address, strings.message(s.skipped.reason)]))).toEqual({
    circle: 'a link to a folder that is read already',
    'sub/up': 'a link to a folder that is read already',
    'out.html': 'a link that leads out of the folder',
    loop: 'a link that leads to itself',
  });
  await expect(source.page('../secret.html')).rejects.toThrow('skip.outside-folder');
  await expect(source.picture('https://example.org/x.png')).rejects.toThrow('skip.on-the-web');
});

test('references resolve within the folder as a browser would', async () => {
  const source = new FileSource(await FolderTree.open(path.join(folder, 'site')));
  expect(source.resolve('../img/a%20b.png?x#y', 'sub/b.htm', null)).toBe('img/a b.png');
  expect(source.resolve('/img/c.png', 'sub/b.htm', null)).toBe('img/c.png');
  expect(source.resolve('//cdn.example.org/c.png', 'a.html', null)).toBe('http://cdn.example.org/c.png');
  expect(source.resolve('../../../etc/passwd', 'a.html', null)).toBe('etc/passwd');
});

test('a folder that is not there is an error in words', async () => {
  await expect(FolderTree.open('/nowhere/at/all')).rejects.toThrow('There is no folder or file at /nowhere/at/all.');
});

async function zipOf(files: Record<string, Buffer | string>): Promise<string> {
  const zip = new yazl.ZipFile();
  for (const [name, data] of Object.entries(files)) zip.addBuffer(Buffer.from(data), name.replace('..', 'xx'));
  zip.end();
  const parts: Buffer[] = [];
  for await (const part of zip.outputStream as unknown as AsyncIterable<Buffer>) parts.push(part);
  const file = path.join(folder, `${Math.abs(Object.keys(files).join().length)}.zip`);
  // yazl refuses unsafe names, so they are put into the bytes afterwards.
  let bytes = Buffer.concat(parts).toString('latin1');
  for (const name of Object.keys(files)) bytes = bytes.replaceAll(name.replace('..', 'xx'), name);
  writeFileSync(file, Buffer.from(bytes, 'latin1'));
  return file;
}

test('a ZIP is read in place', async () => {
  const source = new FileSource(await ZipTree.open(await zipOf({ 'a.html': '<p>a', 'img/x.png': 'x' })));
  expect((await source.seeds()).addresses).toEqual(['a.html']);
  expect((await source.page('a.html')).bytes.toString()).toBe('<p>a');
  expect((await source.picture('img/x.png')).bytes.toString()).toBe('x');
  await expect(source.picture('img/none.png')).rejects.toThrow('skip.no-file');
  await source.close();
});

test('a ZIP that could be an attack is refused as a whole, in words', async () => {
  const bad = path.join(folder, 'bad.zip');
  writeFileSync(bad, 'this is no archive');
  await expect(ZipTree.open(bad)).rejects.toThrow('not a ZIP');
  await expect(ZipTree.open(await zipOf({ '../evil.html': 'x' }))).rejects.toThrow(/unsafe/);
  await expect(ZipTree.open(await zipOf({ 'bomb.html': Buffer.alloc(4 * 1024 * 1024) }))).rejects.toThrow(
    /times its size/,
  );
  const small = { ...LIMITS, zipEntries: 1 } as unknown as typeof LIMITS;
  await expect(ZipTree.open(await zipOf({ 'a.html': '', 'bb.html': '' }), small)).rejects.toThrow(/more than 1 files/);
});

// Entries that share their bytes let 56 kB unpack to any size ("A better zip bomb", 2019, from memory).
test('a ZIP whose entries share bytes is refused; a name that is too long is reported, and the rest is read', async () => {
  const bytes = readFileSync(await zipOf({ 'a.html': 'x'.repeat(500), 'b.html': 'y'.repeat(500) }));
  const directory = bytes.indexOf(Buffer.from('504b0102', 'hex'));
  const second = bytes.indexOf(Buffer.from('504b0102', 'hex'), directory + 4);
  // Offset of the local header (APPNOTE 4.3.12): the second entry is said to begin in the first.
  bytes.writeUInt32LE(bytes.readUInt32LE(directory + 42), second + 42);
  await expect(ZipTree.open(bytes)).rejects.toThrow('“a.html” and “b.html” share the same bytes');

  const long = `${'n'.repeat(60_000)}.html`;
  const source = new FileSource(await ZipTree.open(await zipOf({ [long]: '<p>', 'short.html': '<p>' })));
  const { addresses, skipped } = await source.seeds();
  expect(addresses).toEqual(['short.html']);
  expect(skipped.map((s) => strings.message(s.skipped.reason))).toEqual(['its name has 60,005 characters']);
});

test.each([
  ['a/b.html', true],
  ['../a', false],
  ['a/../b', false],
  ['/a', false],
  ['C:\\a', false],
  ['c:/a', false],
  ['', false],
])('%j is safe: %s', (file, safe) => expect(isSafePath(file)).toBe(safe));
