// `npm test`, `npm run test:long`, `npm run test:server`: installs what is missing, builds, checks types and style, runs
// every test, and closes with one plain line.
import { spawn } from 'node:child_process';
import path from 'node:path';
import { readFileSync, rmSync } from 'node:fs';
import { chromium, otherReaders, postgresServer } from './debian.mjs';
import { install } from './install.mjs';
import { startPostgres } from './postgres.mjs';
import { build } from './serve.mjs';

let passed = 0;
let failed = 0;

// With `--long` (`npm run test:long`) everything of what is else sampled by date, and a longer soak.
const isLong = process.argv.includes('--long');
// With `--server` (`npm run test:server`) the tests of the server run on PostgreSQL instead of the embedded database.
const onServer = process.argv.includes('--server');
const { DETTO_TEST_DAY: day = String(Math.floor(Date.now() / 86_400_000)) } = process.env;
const ENV = { ...process.env, NODE_ENV: 'test', DETTO_TEST_DAY: day, ...(isLong ? { DETTO_TEST_ALL: '1' } : {}) };

/** Runs beside the others that are started with it; resolves to whether it succeeded. */
function run(args) {
  const child = spawn(process.execPath, args, { stdio: 'inherit', env: ENV });
  return new Promise((resolve) => child.once('exit', (code) => resolve(code === 0)));
}

async function check(name, args) {
  const holds = await run(args);
  if (!holds) process.stdout.write(`${name} does not hold\n`);
  if (holds) passed++;
  else failed++;
}

/** Files of tests with how long each took, in seconds. */
const took = [];
/** Files in which something failed beside the others, by project. */
const again = { unit: [], e2e: [] };

/** @returns what Jest says of each file of tests, and whether it ended well */
async function jest(project, ...options) {
  const results = `dist/jest-${project}.json`;
  rmSync(results, { force: true });
  const args = [
    '--experimental-vm-modules',
    '--no-warnings',
    'node_modules/jest/bin/jest.js',
    '--selectProjects',
    project,
  ];
  const ok = await run([...args, '--json', `--outputFile=${results}`, '--silent', ...options]);
  return { ok, files: JSON.parse(readFileSync(results, 'utf8')).testResults };
}

const count = (files, status) => files.flatMap((f) => f.assertionResults).filter((a) => a.status === status).length;

async function tests(project, ...options) {
  const { ok, files } = await jest(project, ...options);
  for (const { name, startTime, endTime } of files) took.push([(endTime - startTime) / 1000, name]);
  const bad = files.filter((f) => f.status === 'failed');
  again[project] = bad.map((f) => f.name);
  passed += count(
    files.filter((f) => !bad.includes(f)),
    'passed',
  );
  if (!ok && bad.length === 0) failed++;
}

/** What failed beside other work is run once more by itself, and said: what fails then has failed. */
async function testsAgain(project) {
  if (again[project].length === 0) return;
  const names = again[project].map((file) => path.relative('.', file));
  process.stdout.write(`Failed beside the others, and run once more: ${names.join(', ')}\n`);
  const { ok, files } = await jest(project, '--runInBand', '--forceExit', ...names);
  passed += count(files, 'passed');
  // A file that could not begin has no failed test of its own.
  failed += ok ? 0 : Math.max(1, count(files, 'failed'));
  for (const f of files)
    for (const a of f.assertionResults.filter((a) => a.status === 'failed'))
      process.stdout.write(`Failed twice: ${path.relative('.', f.name)}: ${a.fullName}\n`);
}

install();
await Promise.all([
  check('types', ['node_modules/typescript/bin/tsc', '--noEmit']),
  check('lint', ['node_modules/eslint/bin/eslint.js', '.']),
  check('format', ['node_modules/prettier/bin/prettier.cjs', '--check', '--log-level', 'warn', '.']),
]);
await build();
chromium();
otherReaders();
// What several processes share is tested on a server of its own; what is in it need not outlive the power.
const postgres = postgresServer() ? await startPostgres({ fsync: 'off' }) : null;
if (postgres) ENV.DETTO_TEST_POSTGRES = postgres.url;
else process.stdout.write('There is no PostgreSQL here (apt-get install postgresql): what needs one is not tested.\n');
if (onServer) {
  ENV.DETTO_TEST_ON = 'server';
  await tests('unit', '--maxWorkers=1', '--workerIdleMemoryLimit=1GB', 'src/server', 'src/app');
  await testsAgain('unit');
  await postgres?.stop();
  process.stdout.write(`${passed} passed, ${failed} failed\n`);
  process.exit(failed === 0 ? 0 : 1);
}
// Browser tests wait most of the time, and leave a core to the others: a second browser beside them makes all of them
// slower than they may be. Modules of a file of tests are never given back, so a process that has grown is followed by a
// new one: one of 4 GB slows all that comes after.
await Promise.all([tests('unit', '--maxWorkers=1', '--workerIdleMemoryLimit=1GB'), tests('e2e', '--runInBand')]);
for (const project of Object.keys(again)) await testsAgain(project);
await postgres?.stop();
await check('soak', ['scripts/bench.mjs', 'soak', '--minutes', isLong ? '10' : '1']);
const slowest = took.sort(([a], [b]) => b - a).slice(0, 10);
process.stdout.write(
  `The ten slowest: ${slowest.map(([s, file]) => `${path.relative('.', file)} ${Math.round(s)} s`).join(', ')}\n`,
);
if (!isLong) process.stdout.write(`The sample of day ${day} (DETTO_TEST_DAY); npm run test:long runs all of it.\n`);
process.stdout.write(`${passed} passed, ${failed} failed\n`);
process.exit(failed === 0 ? 0 : 1);
