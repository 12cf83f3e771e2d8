import { spawn, spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { DATA } from './support/detto';
import { freePort } from './support/detto-process';

/** A start that cannot succeed says why in one sentence, and every process of it ends. */
const scratch = mkdtempSync(path.join(tmpdir(), 'detto-start-'));
afterAll(() => rmSync(scratch, { recursive: true, force: true }));

/** Starts Detto as `npm start` does, and waits until it ends. */
async function start(env: Record<string, string>) {
  const begun = performance.now();
  const child = spawn(process.execPath, ['scripts/start.mjs'], {
    // A group of its own, so that what it leaves behind can be found.
    detached: true,
    stdio: ['ignore', 'pipe', 'pipe'],
    env: { ...process.env, NODE_OPTIONS: '', NODE_ENV: 'production', DETTO_PORT: String(await freePort()), ...env },
  });
  let said = '';
  for (const stream of [child.stdout, child.stderr]) stream.on('data', (part: Buffer) => (said += part.toString()));
  const code = await new Promise((resolve) => child.once('exit', resolve));
  const seconds = (performance.now() - begun) / 1000;
  const left = spawnSync('pgrep', ['-g', String(child.pid)])
    .stdout.toString()
    .trim();
  return { code, seconds, left, said, refusal: /^Detto does not start\. .*$/m.exec(said)?.[0] ?? said };
}

const folder = (name: string, files: Record<string, string> = {}) => {
  const at = path.join(scratch, name);
  mkdirSync(at, { recursive: true });
  for (const [file, text] of Object.entries(files)) {
    mkdirSync(path.dirname(path.join(at, file)), { recursive: true });
    writeFileSync(path.join(at, file), text);
  }
  return at;
};

test.each<[string, () => Promise<Record<string, string>> | Record<string, string>, RegExp]>([
  [
    'another process has the folder',
    () => ({ DETTO_DATA: path.join(DATA, 'data') }),
    /is in use by process \d+\. Stop that one first/,
  ],
  [
    'the folder holds something else',
    () => ({ DETTO_DATA: folder('else', { 'database/x': 'x' }) }),
    /moved to .*set-aside-\d{4}-/,
  ],
  [
    'the database is damaged',
    () => ({ DETTO_DATA: folder('damaged', { 'database/PG_VERSION': '18\n', 'database/global/pg_control': 'x' }) }),
    /cannot be opened \(it is damaged\)/,
  ],
  [
    'the data folder is a file',
    () => ({ DETTO_DATA: path.join(folder('file', { data: 'x' }), 'data') }),
    /it is a file, not a folder/,
  ],
  ['others could come in', () => ({ DETTO_DATA: folder('open'), DETTO_HOST: '0.0.0.0' }), /DETTO_TOKEN is not set/],
  [
    'the port is taken',
    () => ({ DETTO_DATA: folder('port'), DETTO_PORT: new URL(process.env['E2E_DETTO']!).port }),
    /Something else listens on port \d+/,
  ],
])('%s', async (_, env, sentence) => {
  const { code, seconds, left, refusal, said } = await start(await env());
  expect(refusal).toMatch(sentence);
  expect(said).not.toContain('    at ');
  expect(code).toBe(1);
  expect(left).toBe('');
  expect(seconds).toBeLessThan(10);
});

test('what was there before is still there', () => {
  const [aside] = readdirSync(path.join(scratch, 'else')).filter((name) => name.includes('set-aside'));
  expect(readFileSync(path.join(scratch, 'else', aside!, 'x'), 'utf8')).toBe('x');
  expect(readFileSync(path.join(scratch, 'damaged', 'database', 'global', 'pg_control'), 'utf8')).toBe('x');
});

test('all that Detto keeps is its owner’s alone', () => {
  const data = path.join(DATA, 'data');
  const open = readdirSync(data, { withFileTypes: true, recursive: true })
    .map((e) => path.join(e.parentPath, e.name))
    .filter((at) => (statSync(at, { throwIfNoEntry: false })?.mode ?? 0) & 0o077);
  expect(open.filter((at) => !at.endsWith('.socket'))).toEqual([]);
});
