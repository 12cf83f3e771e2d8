// `npm test`, `npm run test:long`: installs what is missing, builds, checks types and style, runs every test, and closes with one plain line.
import { spawn } from 'node:child_process';
import path from 'node:path';
import { readFileSync, rmSync } from 'node:fs';
import { chromium, otherReaders } from './debian.mjs';
import { install } from './install.mjs';
import { build } from './serve.mjs';

let passed = 0;
let failed = 0;

// With `--long` (`npm run test:long`) everything of what is else sampled by date, and a longer soak.
const isLong = process.argv.includes('--long');
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

async function tests(project, ...options) {
  const results = `dist/jest-${project}.json`;
  rmSync(results, { force: true });
  const jest = [
    '--experimental-vm-modules',
    '--no-warnings',
    'node_modules/jest/bin/jest.js',
    '--selectProjects',
    project,
  ];
  const ok = await run([...jest, '--json', `--outputFile=${results}`, '--silent', ...options]);
  const { numPassedTests, numFailedTests, testResults } = JSON.parse(readFileSync(results, 'utf8'));
  passed += numPassedTests;
  // A suite that could not begin has no failed test of its own.
  failed += ok ? 0 : Math.max(1, numFailedTests);
  for (const { name: file, startTime, endTime } of testResults) took.push([(endTime - startTime) / 1000, file]);
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
// Browser tests wait most of the time, and leave a core to the others: a second browser beside them makes all of them
// slower than they may be. Modules of a file of tests are never given back, so a process that has grown is followed by a
// new one: one of 4 GB slows all that comes after.
await Promise.all([tests('unit', '--maxWorkers=1', '--workerIdleMemoryLimit=1GB'), tests('e2e', '--runInBand')]);
await check('soak', ['scripts/bench.mjs', 'soak', '--minutes', isLong ? '10' : '1']);
const slowest = took.sort(([a], [b]) => b - a).slice(0, 10);
process.stdout.write(
  `The ten slowest: ${slowest.map(([s, file]) => `${path.relative('.', file)} ${Math.round(s)} s`).join(', ')}\n`,
);
if (!isLong) process.stdout.write(`The sample of day ${day} (DETTO_TEST_DAY); npm run test:long runs all of it.\n`);
process.stdout.write(`${passed} passed, ${failed} failed\n`);
process.exit(failed === 0 ? 0 : 1);
