// `npm test`: installs what is missing, checks types, runs every test, and closes with one plain line.
import { spawnSync } from 'node:child_process';
import { readFileSync, rmSync } from 'node:fs';
import { install } from './install.mjs';
import { bundle } from './bundle.mjs';

const RESULTS = 'dist/jest.json';
const run = (args) => spawnSync(process.execPath, args, { stdio: 'inherit' }).status === 0;

install();
await bundle();
rmSync(RESULTS, { force: true });
const typesHold = run(['node_modules/typescript/bin/tsc', '--noEmit']);
run(['--experimental-vm-modules', '--no-warnings', 'node_modules/jest/bin/jest.js', '--json', `--outputFile=${RESULTS}`, '--silent']);
const { numPassedTests, numFailedTests, numFailedTestSuites } = JSON.parse(readFileSync(RESULTS, 'utf8'));
const passed = numPassedTests + (typesHold ? 1 : 0);
const failed = Math.max(numFailedTests, numFailedTestSuites) + (typesHold ? 0 : 1);
process.stdout.write(`${passed} passed, ${failed} failed\n`);
process.exit(failed === 0 ? 0 : 1);
