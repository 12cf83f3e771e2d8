import { spawn } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { lockFolder } from './lock';

const scratch = mkdtempSync(path.join(tmpdir(), 'detto-lock-'));
afterAll(() => rmSync(scratch, { recursive: true }));
const folder = (name: string) => path.join(scratch, name, 'database');

test('a folder is taken once, and can be taken again when it was given free', () => {
  const at = folder('twice');
  const free = lockFolder(at);
  expect(() => lockFolder(`${at}/`)).toThrow(
    `Detto’s data in ${at}/ is in use by process ${process.pid}. Stop that one first, or set DETTO_DATA to another folder.`,
  );
  free();
  expect(existsSync(`${at}.lock`)).toBe(false);
  lockFolder(at)();
});

test('what a killed process left is taken over, also when its number has been given to another since', async () => {
  const at = folder('killed');
  lockFolder(at)();
  const child = spawn('sleep', ['60']);
  const stat = readFileSync(`/proc/${child.pid}/stat`, 'utf8');
  const start = stat.slice(stat.lastIndexOf(')') + 2).split(' ')[19];
  writeFileSync(`${at}.lock`, JSON.stringify({ pid: child.pid, start }));
  expect(() => lockFolder(at)).toThrow(`is in use by process ${child.pid}`);
  writeFileSync(`${at}.lock`, JSON.stringify({ pid: child.pid, start: '1' }));
  lockFolder(at)();

  writeFileSync(`${at}.lock`, JSON.stringify({ pid: child.pid, start }));
  child.kill('SIGKILL');
  await new Promise((resolve) => child.once('exit', resolve));
  lockFolder(at)();
});

test('who gives free gives back only what is his', () => {
  const at = folder('lost');
  const free = lockFolder(at);
  const other = JSON.stringify({ pid: 1, start: null });
  writeFileSync(`${at}.lock`, other);
  free();
  expect(readFileSync(`${at}.lock`, 'utf8')).toBe(other);
});
