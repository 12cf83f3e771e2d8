import {
  appendFileSync,
  closeSync,
  mkdtempSync,
  openSync,
  promises,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  truncateSync,
  writeSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

/** Files in packs: each once, found again after a restart, and never half of one. */
const folder = mkdtempSync(path.join(tmpdir(), 'detto-blobs-'));
process.env['DETTO_DATA'] = folder;
const { closeDatabase, database } = await import('../db/database');
const { closeFiles, keepFile, keepFiles, readFile, sha256Of } = await import('./blobs');

const pack = () => path.join(folder, 'files', readdirSync(path.join(folder, 'files')).sort().at(-1)!);
afterAll(async () => {
  await closeFiles();
  await closeDatabase();
  rmSync(folder, { recursive: true });
});

test('many are kept at a stroke and come back; the same bytes are kept once', async () => {
  const files = ['quay', '', 'boat', 'gull'].map((text) => Buffer.from(text));
  const db = await database();
  const all = new Map(files.map((bytes) => [sha256Of(bytes), bytes]));
  await db.transaction((tx) => keepFiles(tx, all));
  await db.transaction((tx) => keepFiles(tx, all));
  expect(statSync(pack()).size).toBe('quayboatgull'.length);
  for (const bytes of files) expect(await readFile(sha256Of(bytes))).toEqual(bytes);
});

test('what a killed process appended and did not record counts for nothing', async () => {
  await closeFiles();
  appendFileSync(pack(), 'half of someth');
  const kept = await keepFile(Buffer.from('whole'));
  expect((await readFile(kept)).toString()).toBe('whole');
  expect((await readFile(sha256Of(Buffer.from('gull')))).toString()).toBe('gull');
});

test('several at the same time do not get into each other', async () => {
  const texts = Array.from({ length: 30 }, (_, i) => `file number ${i}`.repeat(i + 1));
  const names = await Promise.all(texts.map((text) => keepFile(Buffer.from(text))));
  expect(await Promise.all(names.map(async (name) => (await readFile(name)).toString()))).toEqual(texts);
});

test('a file that is not there, is cut off or was changed is an error; it is dropped, and stored again when it is met', async () => {
  await expect(readFile('0'.repeat(64))).rejects.toThrow('There is no file');
  const last = await keepFile(Buffer.from('the last one'));
  await closeFiles();
  truncateSync(pack(), statSync(pack()).size - 3);
  await expect(readFile(last)).rejects.toThrow('was damaged and has been dropped');
  await expect(readFile(last)).rejects.toThrow('There is no file');
  await keepFile(Buffer.from('the last one'));
  expect((await readFile(last)).toString()).toBe('the last one');

  const at = readFileSync(pack()).indexOf('the last one');
  const handle = openSync(pack(), 'r+');
  writeSync(handle, 'T', at);
  closeSync(handle);
  await expect(readFile(last)).rejects.toMatchObject({ code: 'damaged-file', sha256: last });
});

// What a disk that is full does to a write: some bytes, then ENOSPC (write(2)).
test('after a write that failed half-way, what was stored before and what comes after is right', async () => {
  const before = await keepFile(Buffer.from('before the disk was full'));
  const size = statSync(pack()).size;
  const handle = await promises.open(pack(), 'r');
  const prototype = Object.getPrototypeOf(handle) as { write: (...args: unknown[]) => Promise<unknown> };
  await handle.close();
  const write = prototype.write;
  prototype.write = async function (this: unknown, bytes, from, _length, position) {
    await write.call(this, bytes, from, 5, position);
    throw Object.assign(new Error('ENOSPC: no space left on device, write'), { code: 'ENOSPC' });
  };
  await expect(keepFile(Buffer.from('while it was full'))).rejects.toThrow('ENOSPC');
  prototype.write = write;
  expect(statSync(pack()).size).toBe(size);
  const after = await Promise.all(['one', 'two', 'while it was full'].map((text) => keepFile(Buffer.from(text))));
  expect((await readFile(before)).toString()).toBe('before the disk was full');
  expect(await Promise.all(after.map(async (name) => (await readFile(name)).toString()))).toEqual([
    'one',
    'two',
    'while it was full',
  ]);
});
