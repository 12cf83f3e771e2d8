import {
  chmodSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { checkDatabaseFolder, checkDataFolder, closeToOthers, openToOthers } from './data-folder';
import { copyTemplate } from './database-template';

/** A folder that Detto does not understand is left as it is, or moved aside, and the start says so in one sentence. */
const scratch = mkdtempSync(path.join(tmpdir(), 'detto-folder-'));
afterAll(() => rmSync(scratch, { recursive: true, force: true }));
const NOW = new Date('2026-02-03T04:05:06Z');

function folderOf(name: string, files: Record<string, string>): string {
  const folder = path.join(scratch, name, 'database');
  mkdirSync(folder, { recursive: true });
  for (const [file, text] of Object.entries(files)) writeFileSync(path.join(folder, file), text);
  return folder;
}

test('what is no database is moved aside, with all that is in it', () => {
  const folder = folderOf('none', { 'base-of-somebody': 'words' });
  expect(() => checkDatabaseFolder(folder, NOW)).toThrow(`it was moved to ${folder}.set-aside-2026-02-03T04-05-06.`);
  expect(existsSync(folder)).toBe(false);
  expect(readFileSync(`${folder}.set-aside-2026-02-03T04-05-06/base-of-somebody`, 'utf8')).toBe('words');
  checkDatabaseFolder(folder, NOW);
  const file = path.join(scratch, 'a-file');
  writeFileSync(file, 'x');
  expect(() => checkDatabaseFolder(file, NOW)).toThrow('is no database that Detto can read');
});

test('a database is its owner’s alone from the first moment, also where its template is readable for all', async () => {
  const template = folderOf('template', { PG_VERSION: '18\n' });
  chmodSync(template, 0o755);
  chmodSync(path.join(template, 'PG_VERSION'), 0o644);
  const folder = path.join(scratch, 'copied');
  await copyTemplate(template, folder);
  expect(await openToOthers(folder)).toBe(0);
  expect(readFileSync(path.join(folder, 'PG_VERSION'), 'utf8')).toBe('18\n');
});

test('one of another version is not touched', () => {
  const folder = folderOf('newer', { PG_VERSION: '19\n' });
  expect(() => checkDatabaseFolder(folder, NOW)).toThrow('was made by PostgreSQL 19, and this Detto opens 18');
  expect(readdirSync(folder)).toEqual(['PG_VERSION']);
});

test('a data folder that is a file, or in one, is reported', async () => {
  const file = path.join(scratch, 'file');
  writeFileSync(file, 'x');
  await expect(checkDataFolder(file)).rejects.toThrow(
    `Detto cannot use the data folder ${file}: it is a file, not a folder.`,
  );
  await expect(checkDataFolder(path.join(file, 'data'))).rejects.toThrow('it is a file, not a folder');
});

test('a damaged database, and one that a newer Detto kept, are refused in one sentence and stay', async () => {
  // Loaded first: Jest does not link what is asked for in several places at once.
  await import('./schema');
  await import('drizzle-orm/pglite');
  const { openEmbeddedDatabase } = await import('./embedded-database');
  const { sql } = await import('drizzle-orm');
  const folder = path.join(scratch, 'kept', 'database');
  const first = await openEmbeddedDatabase(folder);
  await first.db.execute(
    sql`insert into drizzle.__drizzle_migrations (hash, created_at) values ('later', 99999999999999)`,
  );
  await first.close();
  await expect(openEmbeddedDatabase(folder)).rejects.toThrow(
    'was kept by a newer Detto. Start that one; nothing was changed.',
  );
  const control = path.join(folder, 'global', 'pg_control');
  const before = readdirSync(folder).sort();
  writeFileSync(control, Buffer.alloc(8192, 7));
  const failure = await openEmbeddedDatabase(folder).catch((error: unknown) => error);
  expect(failure).toMatchObject({ code: 'damaged' });
  expect((failure as Error).message).toMatch(
    /^The database in .* cannot be opened \(it is damaged\); nothing in it was removed\./,
  );
  expect((failure as Error).message).not.toContain('\n');
  expect(readdirSync(folder).sort()).toEqual(before);
});

test('nothing in the folder is anybody else’s to read, also what an older Detto left open', async () => {
  const folder = path.join(scratch, 'kept');
  chmodSync(path.join(folder, 'database', 'PG_VERSION'), 0o666);
  chmodSync(folder, 0o755);
  expect(await openToOthers(folder)).toBeGreaterThanOrEqual(2);
  await closeToOthers(folder);
  expect(await openToOthers(folder)).toBe(0);
  expect(statSync(folder).mode & 0o777).toBe(0o700);
});
