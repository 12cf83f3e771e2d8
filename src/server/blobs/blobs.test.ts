import { appendFileSync, mkdtempSync, readdirSync, rmSync, statSync, truncateSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { jest } from '@jest/globals';

/** Files in packs: each once, found again after a restart, and never half of one. */
jest.setTimeout(60_000);
const folder = mkdtempSync(path.join(tmpdir(), 'detto-blobs-'));
process.env['DETTO_DATA'] = folder;
const { closeDatabase, database } = await import('../db/database');
const { closeFiles, keepFile, keepFiles, readFile, sha256Of } = await import('./blobs');

const pack = () => path.join(folder, 'files', readdirSync(path.join(folder, 'files'))[0]!);
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

test('what a killed process appended and did not tell counts for nothing', async () => {
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

test('a file that is not there, or cut off, is an error', async () => {
  await expect(readFile('0'.repeat(64))).rejects.toThrow('There is no file');
  const last = await keepFile(Buffer.from('the last one'));
  truncateSync(pack(), statSync(pack()).size - 3);
  await expect(readFile(last)).rejects.toThrow('cut off');
});
