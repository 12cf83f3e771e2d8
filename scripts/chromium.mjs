// Debian's Chromium for browser tests, installed where it is missing.
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';

/** @returns the path of the browser */
export function chromium() {
  const file = process.env.CHROMIUM ?? '/usr/bin/chromium';
  if (existsSync(file)) return file;
  process.stderr.write('Installing Chromium …\n');
  const run = (...args) =>
    spawnSync('apt-get', args, { stdio: ['ignore', 2, 2], env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } });
  run('update', '-qq');
  run('install', '-y', '-qq', '--no-install-recommends', 'chromium');
  if (!existsSync(file))
    throw new Error(`There is no Chromium at ${file}. Install it (apt-get install chromium), or name it in CHROMIUM.`);
  return file;
}
