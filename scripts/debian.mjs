// What tests need of Debian, installed where it is missing: a browser, and programs that read our files.
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';

function install(name) {
  process.stderr.write(`Installing ${name} …\n`);
  const run = (...args) =>
    spawnSync('apt-get', args, { stdio: ['ignore', 2, 2], env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } });
  run('update', '-qq');
  run('install', '-y', '-qq', '--no-install-recommends', name);
}

/** @returns the path of the browser */
export function chromium() {
  const file = process.env.CHROMIUM ?? '/usr/bin/chromium';
  if (existsSync(file)) return file;
  install('chromium');
  if (!existsSync(file))
    throw new Error(`There is no Chromium at ${file}. Install it (apt-get install chromium), or name it in CHROMIUM.`);
  return file;
}

/** Python's reader of workbooks, which checks ours. */
export function openpyxl() {
  const isThere = () => spawnSync('/usr/bin/python3', ['-c', 'import openpyxl']).status === 0;
  if (isThere()) return;
  install('python3-openpyxl');
  if (!isThere())
    throw new Error('There is no openpyxl for /usr/bin/python3. Install it (apt-get install python3-openpyxl).');
}
