/**
 * `npm run bench -- rendered [FOLDER]`: pages opened in Chromium and read as Detto reads them (guarded proxy, snapshot,
 * reading), beside a bare `page.goto` of the same pages with the same number of tabs. Medians of five.
 */
import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import PQueue from 'p-queue';
import { chromium } from 'playwright-core';
import { ReaderPool } from '../src/server/workers/reader-pool';
import { BrowserRenderer, FLAGS } from '../src/server/survey/browser/browser';
import { findChromium } from '../src/server/net/chromium';
import { parseAllowed } from '../src/server/net/allowed';
import { userAgent } from '../src/server/survey/request-headers';
import { SiteSource } from '../src/server/survey/site-source';
import { UNCHANGED } from '../src/server/survey/source';
import { serveFolder } from './support/nginx';

const folder = process.argv[2] ?? '/usr/share/gimp/2.0/help/en';
const PAGES = 120;
const TABS = 3;
const ROUNDS = Number(process.env.ROUNDS ?? 5);

const scratch = mkdtempSync(path.join(tmpdir(), 'detto-bench-'));
const served = await serveFolder(folder, scratch);
const pages = readdirSync(folder)
  .filter((file) => file.endsWith('.html'))
  .sort()
  .filter((_, i, all) => i % Math.ceil(all.length / PAGES) === 0)
  .map((file) => `${served.origin}/${file}`);
const executable = findChromium(process.env['DETTO_CHROMIUM'] || null)!;
const allowed = [parseAllowed(served.host)];

const middle = (times: number[]) => times.sort((a, b) => a - b)[times.length >> 1]!;
const timed = async (work: () => Promise<void>) => {
  const begun = performance.now();
  await work();
  return performance.now() - begun;
};

async function bare(): Promise<() => Promise<void>> {
  const browser = await chromium.launch({ executablePath: executable, args: FLAGS });
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const tabs = await Promise.all(Array.from({ length: TABS }, () => context.newPage()));
  ends.push(() => browser.close());
  return async () => {
    const queue = [...pages];
    await Promise.all(
      tabs.map(async (tab) => {
        for (let next = queue.shift(); next; next = queue.shift()) await tab.goto(next);
      }),
    );
  };
}

function detto(): () => Promise<void> {
  const source = new SiteSource(pages[0]!, { allowed });
  const renderer = new BrowserRenderer({ executable, allowed, userAgent: userAgent(''), limits: { pages: TABS } });
  const readers = new ReaderPool(2);
  ends.push(async () => {
    await renderer.close();
    await source.close();
    readers.close();
  });
  return async () => {
    const queue = new PQueue({ concurrency: TABS + 1 });
    await Promise.all(
      pages.map((address) =>
        queue.add(async () => {
          const fetched = await source.page(address);
          if (fetched === UNCHANGED) throw new Error('never asked for');
          const reading = await readers.page(fetched.bytes, fetched.transport);
          const { snapshot } = await renderer.render(fetched, reading.isDynamic);
          await readers.rendered(reading, snapshot);
        }),
      ),
    );
  };
}

const ends: (() => Promise<void>)[] = [];
try {
  const [plain, reading] = [await bare(), detto()];
  // Both warm: the caches of Chromium and the compiled code.
  await plain();
  await reading();
  const times: [number[], number[]] = [[], []];
  for (let i = 0; i < ROUNDS; i++) {
    times[0].push(await timed(plain));
    times[1].push(await timed(reading));
  }
  const [a, b] = [middle(times[0]), middle(times[1])];
  process.stdout.write(`| ${pages.length} pages, ${TABS} at a time | time |\n|---|---|\n`);
  process.stdout.write(`| bare page.goto | ${(a / 1000).toFixed(1)} s |\n`);
  process.stdout.write(`| fetched, rendered and read by Detto | ${(b / 1000).toFixed(1)} s |\n\n`);
  process.stdout.write(`${(b / a).toFixed(2)} times the bare page.goto.\n`);
} finally {
  for (const end of ends) await end();
  served.close();
  rmSync(scratch, { recursive: true, force: true });
}
