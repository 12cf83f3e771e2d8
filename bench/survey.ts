/**
 * `npm run bench -- survey [FOLDER]`: a folder of real pages, served by nginx on this machine, surveyed whole (fetch,
 * parse, names, pictures with size and hash, audit, database) beside `wget -r`, which only fetches, and beside the
 * general-purpose crawling library crawlee with its HTML parser, which fetches and parses pages and no pictures.
 * Each in one process that has warmed up; medians of five.
 *
 * `npm run bench -- survey --small` does the same with 100 pages that are made here, in under a minute: `.ci/run` shows its
 * ratio, so that a loss is seen on the day it happens.
 */
import { fork, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import engine from '../scripts/engine.json';
import { serveFolder } from './support/nginx';
import { writePicturePages } from './support/picture-pages';

const SMALL_PAGES = 100;
const isSmall = process.argv[2] === '--small';
const ROUNDS = Number(process.env.ROUNDS ?? (isSmall ? 2 : 5));

export interface Round {
  pages: number;
  ms: number;
}

const scratch = mkdtempSync(path.join(tmpdir(), 'detto-bench-'));
const folder = isSmall ? path.join(scratch, 'site') : (process.argv[2] ?? '/usr/share/gimp/2.0/help/en');
if (isSmall) writePicturePages(folder, SMALL_PAGES);
const start = (isSmall ? undefined : process.argv[3]) ?? 'index.html';
const served = await serveFolder(folder, scratch);
const site = `${served.origin}/${start}`;

function told(name: string, rounds: Round[]): number {
  const sorted = [...rounds].sort((a, b) => a.ms - b.ms);
  const { pages, ms } = sorted[sorted.length >> 1]!;
  const rate = (1000 * pages) / ms;
  process.stdout.write(`| ${name} | ${pages} | ${(ms / 1000).toFixed(1)} s | ${rate.toFixed(0)} |\n`);
  return rate;
}

/** Runs a script that sends its rounds as one message. */
function roundsOf(script: string, execArgv: string[] = [], env: Record<string, string> = {}): Promise<Round[]> {
  const child = fork(script, [site, String(ROUNDS + 1)], {
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    execArgv,
    env: { ...process.env, ...env },
  });
  return new Promise((resolve, reject) => {
    child.on('message', (message) => resolve((JSON.parse(String(message)) as Round[]).slice(1)));
    child.on('exit', (code) => reject(new Error(`${script} ended with ${code}`)));
  });
}

const CRAWLER = `import { CheerioCrawler, Configuration, log, LogLevel } from '@crawlee/cheerio';
log.setLevel(LogLevel.OFF);
const rounds = [];
for (let i = 0; i < Number(process.argv[3]); i++) {
  let pages = 0;
  const start = performance.now();
  const crawler = new CheerioCrawler({ maxConcurrency: 8, minConcurrency: 4, maxRequestRetries: 0,
    async requestHandler({ $, enqueueLinks }) { pages++; $('img').length; await enqueueLinks({ strategy: 'same-hostname', exclude: [/\\.(?:png|jpe?g|gif|svg|txt|pdf|css|zip)$/i] }); } },
    new Configuration({ persistStorage: false, availableMemoryRatio: 0.9 }));
  await crawler.run([{ url: process.argv[2], uniqueKey: String(i) }]);
  rounds.push({ pages, ms: performance.now() - start });
}
process.send(JSON.stringify(rounds), () => process.exit(0));
`;

/** The peer is no dependency of Detto's; it is installed beside when it is wanted. */
function crawler(): string | null {
  const beside = path.resolve('dist/bench/peer');
  if (!existsSync(path.join(beside, 'node_modules'))) {
    mkdirSync(beside, { recursive: true });
    writeFileSync(path.join(beside, 'package.json'), '{"private":true,"type":"module"}');
    const { status } = spawnSync('npm', ['i', '--ignore-scripts', '@crawlee/basic@3', '@crawlee/cheerio@3'], {
      cwd: beside,
      stdio: 'ignore',
    });
    if (status !== 0) return null;
  }
  writeFileSync(path.join(beside, 'crawl.js'), CRAWLER);
  return path.join(beside, 'crawl.js');
}

try {
  process.stdout.write('| | pages | time | pages a second |\n|---|---|---|---|\n');
  const fetched = told(
    'wget -r (fetches only, pictures too)',
    Array.from({ length: ROUNDS }, (_, i) => {
      const into = path.join(scratch, `wget${i}`);
      const begun = performance.now();
      spawnSync('wget', ['-q', '-r', '-l', 'inf', '-P', into, site]);
      const ms = performance.now() - begun;
      const pages = spawnSync('find', [into, '-name', '*.html'], { encoding: 'utf8' }).stdout.split('\n').length - 1;
      return { pages, ms };
    }),
  );
  const peer = crawler();
  const crawled = peer ? told('crawlee with its parser (pages only)', await roundsOf(peer)) : null;
  const surveyed = told(
    'Detto, everything',
    await roundsOf('dist/bench/survey-rounds.js', engine.flags, {
      ...engine.env,
      DETTO_DATA: path.join(scratch, 'data'),
      DETTO_ALLOW_HOSTS: served.host,
      DETTO_LOG: 'silent',
    }),
  );
  process.stdout.write(`\nPages a second of Detto: ${(surveyed / fetched).toFixed(2)} of wget -r`);
  process.stdout.write(crawled ? `, ${(surveyed / crawled).toFixed(2)} of crawlee.\n` : '.\n');
} finally {
  served.close();
  rmSync(scratch, { recursive: true, force: true });
}
