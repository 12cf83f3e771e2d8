// What tests need of Debian, installed where it is missing: a browser, and programs that read our files.
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { postgresPrograms } from './postgres.mjs';

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

/** A database server; without one, what several processes share is not tested. @returns whether there is one */
export function postgresServer() {
  if (!postgresPrograms()) install('postgresql');
  return postgresPrograms() !== null;
}

/** What the survey benches need: a server of files, and what only fetches. */
export function surveyPeers() {
  if (!existsSync('/usr/sbin/nginx')) install('nginx-light');
  if (spawnSync('wget', ['--version']).status !== 0) install('wget');
}

/** Readers of documents that are not ours: Python's for office files and XML, and one for PDF. */
export function otherReaders() {
  const python = (module) => spawnSync('/usr/bin/python3', ['-c', `import ${module}`]).status === 0;
  const program = (name) => spawnSync(name, ['--version']).status === 0;
  const wanted = [
    ['python3-openpyxl', () => python('openpyxl')],
    ['python3-docx', () => python('docx')],
    ['python3-odf', () => python('odf')],
    ['python3-lxml', () => python('lxml')],
    ['qpdf', () => program('qpdf')],
    // Servers that read our redirects; neither is started by its package where no init system runs.
    ['apache2-bin', () => existsSync('/usr/sbin/apache2')],
    ['nginx-light', () => existsSync('/usr/sbin/nginx')],
  ];
  for (const [name, isThere] of wanted) {
    if (isThere()) continue;
    install(name);
    if (!isThere()) throw new Error(`${name} is missing. Install it (apt-get install ${name}).`);
  }
}
