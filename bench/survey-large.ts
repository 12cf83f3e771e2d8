/**
 * `npm run bench -- survey-large [PAGES]`: a generated site of 20,000 pages, with 2,000 pictures, surveyed whole; the memory
 * of the process on the way, and how long it takes to go on after a kill in the middle.
 */
import { fork, type ChildProcess } from 'node:child_process';
import engine from '../scripts/engine.json';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { TestSite, DOT } from '../src/server/testing/site';

const PAGES = Number(process.argv[2] ?? 20_000);
const PICTURES = PAGES / 10;
const TEXT = 'Four boats a day, every day but two, from the quay to the island and the light on the rock. '.repeat(20);

let pages = 0;
let onPage: (() => void) | null = null;
const site = await TestSite.open(({ url }) => {
  const at = Number(/\d+/.exec(url ?? '')?.[0] ?? 0);
  if (url?.startsWith('/picture'))
    return { headers: { 'content-type': 'image/gif' }, body: Buffer.concat([DOT, Buffer.from(String(at))]) };
  if (!url?.startsWith('/page')) return undefined;
  pages++;
  onPage?.();
  const links = Array.from({ length: 10 }, (_, i) => 10 * at + i + 1).filter((n) => n < PAGES);
  const pictures = [at, 7 * at, 13 * at].map((n) => n % PICTURES);
  return {
    body: `<!doctype html><html lang="en"><title>Page ${at}</title><main><h1>Page ${at}</h1><p>${TEXT}</p>
${pictures.map((n) => `<img src="/picture${n}.gif" alt="Picture ${n} of the quay" width="40" height="30">`).join('')}
${links.map((n) => `<a href="/page${n}">Page ${n}</a>`).join(' ')}</main>`,
  };
});
const scratch = mkdtempSync(path.join(tmpdir(), 'detto-bench-'));

interface Told {
  state: string;
  pages: number;
  seconds: number;
}

function survey(): { child: ChildProcess; told: Promise<Told | null> } {
  const child = fork('dist/workers/survey-once.js', [`${site.origin}/page0`], {
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    execArgv: engine.flags,
    env: {
      ...process.env,
      ...engine.env,
      DETTO_DATA: path.join(scratch, 'data'),
      DETTO_ALLOW_HOSTS: site.host,
      DETTO_LOG: 'silent',
    },
  });
  const told = new Promise<Told | null>((resolve) => {
    child.on('message', (message) => resolve(JSON.parse(String(message)) as Told));
    child.on('exit', () => resolve(null));
  });
  return { child, told };
}

/** Resident memory of a process, in megabytes. */
const memory = (pid: number) => (Number(readFileSync(`/proc/${pid}/statm`, 'utf8').split(' ')[1]) * 4096) / 1_048_576;

/** Samples the memory at each tenth of the pages. */
function watch(child: ChildProcess): { at: Map<number, number>; end(): void } {
  const at = new Map<number, number>();
  const timer = setInterval(() => {
    const tenth = Math.floor((10 * pages) / PAGES);
    try {
      at.set(tenth, Math.max(at.get(tenth) ?? 0, memory(child.pid!)));
    } catch {
      // It has ended between two samples.
    }
  }, 250);
  return { at, end: () => clearInterval(timer) };
}

try {
  const first = survey();
  const before = watch(first.child);
  await new Promise<void>((resolve) => (onPage = () => pages >= PAGES / 2 && resolve()));
  first.child.kill('SIGKILL');
  await first.told;
  before.end();

  const begun = performance.now();
  const second = survey();
  const next = new Promise<number>((resolve) => (onPage = () => resolve(performance.now() - begun)));
  const after = watch(second.child);
  const seconds = (await next) / 1000;
  onPage = null;
  const told = await second.told;
  after.end();
  process.stdout.write('| pages asked for | memory |\n|---|---|\n');
  for (const [tenth, megabytes] of [...before.at, ...[...after.at].map(([t, m]) => [t, m] as const)])
    process.stdout.write(`| ${((tenth * PAGES) / 10).toLocaleString('en')} | ${megabytes.toFixed(0)} MB |\n`);
  process.stdout.write(
    `\nKilled half way; the next page was asked for ${seconds.toFixed(1)} s after the process was started again.\n` +
      `In the end: ${told?.state}, ${told?.pages} pages; the second half took ${told?.seconds.toFixed(0)} s.\n`,
  );
} finally {
  await site.close();
  rmSync(scratch, { recursive: true, force: true });
}
