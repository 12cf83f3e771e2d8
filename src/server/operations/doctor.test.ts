import { chmodSync, mkdtempSync, readdirSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { eq, sql } from 'drizzle-orm';

/** The doctor finds what is wrong in a data folder, fixes it, and takes nothing that is needed. */
const data = mkdtempSync(path.join(tmpdir(), 'detto-doctor-'));
process.env['DETTO_DATA'] = data;
process.umask(0o077);
const { closeDatabase, database } = await import('../db/database');
const { closeFiles, keepFile, readFile } = await import('../blobs/blobs');
const { collection, file, picture } = await import('../db/schema');
const { examine } = await import('./doctor');
const { doctorText, isSound } = await import('../../../cli/doctor');

afterAll(async () => {
  await closeFiles();
  await closeDatabase();
  rmSync(data, { recursive: true });
});

test('damaged, unneeded, missing and open files are found and fixed; the rest is where it was', async () => {
  const db = await database();
  await db.insert(collection).values({ id: 'a', name: 'A', kind: 'folder', root: '/a', maxPages: 1, maxDepth: 1 });
  const kept = [];
  for (const text of ['first', 'damaged', 'second', 'unneeded', 'third']) kept.push(await keepFile(Buffer.from(text)));
  const [first, damaged, second, , third] = kept;
  const rows = [first!, damaged!, second!, third!, 'f'.repeat(64)].map((sha256) => ({
    ...{ collectionId: 'a', key: sha256, sha256, type: 'image/png' },
  }));
  await db.insert(picture).values(rows);
  await db
    .update(file)
    .set({ start: sql`${file.start} + 2` })
    .where(eq(file.sha256, damaged!));
  const pack = path.join(data, 'files', readdirSync(path.join(data, 'files'))[0]!);
  chmodSync(pack, 0o644);
  await closeFiles();

  const found = await examine(false, () => undefined);
  expect(found).toMatchObject({ files: 5, damaged: 1, orphans: 1, missing: 1, packs: 1, open: 1, fixed: false });
  expect(isSound(found)).toBe(false);
  expect(doctorText(found)).toContain('1 stored file is damaged.');
  expect(doctorText(found)).toContain('Run it with --fix to repair this.');

  const checked: number[] = [];
  const fixed = await examine(true, (done) => checked.push(done));
  expect(fixed).toMatchObject({ files: 3, damaged: 1, orphans: 1, open: 0, fixed: true });
  expect(fixed.packBytes).toBe('firstsecondthird'.length);
  expect(fixed.usedBytes).toBe(fixed.packBytes);
  expect(checked).toEqual([5]);
  expect(readdirSync(path.join(data, 'files'))).toEqual(['pack-00002']);
  expect(statSync(path.join(data, 'files', 'pack-00002')).mode & 0o777).toBe(0o600);
  for (const [name, text] of [
    [first, 'first'],
    [second, 'second'],
    [third, 'third'],
  ] as const)
    expect((await readFile(name!)).toString()).toBe(text);
  // What is stored from now on goes on behind it.
  expect((await readFile(await keepFile(Buffer.from('damaged')))).toString()).toBe('damaged');
  const after = await examine(false, () => undefined);
  expect(after).toMatchObject({ damaged: 0, orphans: 0, missing: 1, open: 0 });
});
