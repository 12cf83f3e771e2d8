// Completes package-lock.json with stub entries for optional platform packages that the registry in use did
// not serve, so that `npm ci` takes the lock file everywhere. Run it after every change of dependencies.
import { readFileSync, writeFileSync } from 'node:fs';

const FILE = 'package-lock.json';
const SYSTEMS = ['darwin', 'win32', 'linux', 'freebsd', 'openbsd', 'netbsd', 'sunos', 'aix', 'android', 'openharmony'];
const PROCESSORS = ['arm64', 'x64', 'ia32', 'arm', 'ppc64', 's390x', 'riscv64', 'loong64', 'mips64el', 'wasm32'];

const lock = JSON.parse(readFileSync(FILE, 'utf8'));
const packages = lock.packages;

/** Whether a package is found from a place in node_modules, as Node resolves it. */
function isThere(from, name) {
  for (let folder = from; ;) {
    if (packages[`${folder ? `${folder}/` : ''}node_modules/${name}`]) return true;
    if (!folder) return false;
    const at = folder.lastIndexOf('node_modules/');
    folder = at <= 0 ? '' : folder.slice(0, at - 1);
  }
}

const added = [];
for (const [place, entry] of Object.entries({ ...packages }))
  for (const [name, range] of Object.entries(entry.optionalDependencies ?? {})) {
    if (isThere(place, name)) continue;
    const parts = name.toLowerCase().split(/[-/]/);
    const os = SYSTEMS.find((s) => parts.includes(s));
    const cpu = PROCESSORS.find((p) => parts.includes(p));
    packages[`node_modules/${name}`] = {
      version: range.replace(/^[\^~]/, ''),
      optional: true,
      ...(entry.dev ? { dev: true } : {}),
      ...(entry.devOptional ? { devOptional: true } : {}),
      ...(cpu ? { cpu: [cpu] } : {}),
      ...(os ? { os: [os] } : {}),
    };
    added.push(name);
  }
lock.packages = Object.fromEntries(Object.entries(packages).sort(([a], [b]) => (a < b ? -1 : 1)));
writeFileSync(FILE, `${JSON.stringify(lock, null, 2)}\n`);
process.stdout.write(`${added.length} entries added\n`);
