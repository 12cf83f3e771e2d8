/**
 * `npm run bench -- survey-large [PAGES]`: a generated site of 20,000 pages, with 2,000 pictures, surveyed whole; the memory
 * of the process on the way, and how long it takes to go on after a kill in the middle: medians of five of a process that
 * surveys, and of the web application.
 */
import { fork, spawn, type ChildProcess } from 'node:child_process';
import { cpSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import engine from '../scripts/engine.json';
import { TestSite, DOT } from '../src/server/testing/site';

const ROUNDS = 5;
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

const data = path.join(scratch, 'data');
const environment = {
  ...process.env,
  ...engine.env,
  DETTO_DATA: data,
  DETTO_ALLOW_HOSTS: site.host,
  DETTO_LOG: 'silent',
  NEXT_TELEMETRY_DISABLED: '1',
};

function survey(): { child: ChildProcess; told: Promise<Told | null> } {
  const child = fork('dist/workers/survey-once.js', [`${site.origin}/page0`], {
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    execArgv: engine.flags,
    env: environment,
  });
  const told = new Promise<Told | null>((resolve) => {
    child.on('message', (message) => resolve(JSON.parse(String(message)) as Told));
    child.on('exit', () => resolve(null));
  });
  return { child, told };
}

/** The web application takes up what it finds, unasked. */
const application = () =>
  spawn(process.execPath, [...engine.flags, 'dist/workers/server.js', 'start', '-H', '127.0.0.1', '-p', '0'], {
    stdio: 'ignore',
    env: environment,
  });

/** Milliseconds from the start of a process on what the kill left to the next page that it asks for. */
async function goesOn(start: () => ChildProcess, left: string): Promise<number> {
  rmSync(data, { recursive: true, force: true });
  cpSync(left, data, { recursive: true });
  const begun = performance.now();
  const child = start();
  const ms = await new Promise<number>((resolve) => (onPage = () => resolve(performance.now() - begun)));
  onPage = null;
  const over = new Promise((resolve) => child.once('exit', resolve));
  child.kill('SIGKILL');
  await over;
  return ms;
}

const seconds = (ms: number) => `${(ms / 1000).toFixed(1)} s`;
const median = (values: number[]) => values.toSorted((a, b) => a - b)[values.length >> 1]!;

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

  const left = path.join(scratch, 'left');
  cpSync(data, left, { recursive: true });
  const once: number[] = [];
  const whole: number[] = [];
  for (let i = 0; i < ROUNDS; i++) {
    once.push(await goesOn(() => survey().child, left));
    whole.push(await goesOn(application, left));
  }
  rmSync(data, { recursive: true, force: true });
  cpSync(left, data, { recursive: true });
  pages = PAGES / 2;
  const second = survey();
  const after = watch(second.child);
  const told = await second.told;
  after.end();
  process.stdout.write('| pages asked for | memory |\n|---|---|\n');
  for (const [tenth, megabytes] of [...before.at, ...[...after.at].map(([t, m]) => [t, m] as const)])
    process.stdout.write(`| ${((tenth * PAGES) / 10).toLocaleString('en')} | ${megabytes.toFixed(0)} MB |\n`);
  process.stdout.write(
    `\nKilled half way; the next page was asked for ${seconds(median(once))} after the start of a process that surveys (${once.map(seconds).join(', ')}),\n` +
      `and ${seconds(median(whole))} after that of the web application (${whole.map(seconds).join(', ')}).\n` +
      `In the end: ${told?.state}, ${told?.pages} pages; the second half took ${told?.seconds.toFixed(0)} s.\n`,
  );
} finally {
  await site.close();
  rmSync(scratch, { recursive: true, force: true });
}
