// Installs the packages of the lock file where they are missing; says so on standard error.
import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';

const MARK = 'node_modules/.package-lock.json';

/** True when every package that the lock file asks for on this platform is there in that version. */
function complete() {
  if (!existsSync(MARK)) return false;
  const wanted = JSON.parse(readFileSync('package-lock.json', 'utf8')).packages;
  const there = JSON.parse(readFileSync(MARK, 'utf8')).packages;
  return Object.entries(wanted).every(
    ([name, p]) => name === '' || p.optional || p.link || there[name]?.version === p.version,
  );
}

export function install() {
  if (complete()) return;
  process.stderr.write('Installing packages (about a minute) …\n');
  const { status } = spawnSync('npm', ['ci', '--no-progress'], { stdio: ['ignore', 2, 2] });
  if (status !== 0) throw new Error('npm ci failed; see above.');
}
