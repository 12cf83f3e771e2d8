/**
 * `npm run bench -- seen FOLDER…`: the pictures that Detto finds on pages of real sites, by their source and in a browser,
 * beside those that Chromium asks the server for when it shows the page and somebody scrolls through it; and the
 * backgrounds that Detto works out beside Chromium's computed styles. Prints every difference.
 */
import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { chromium } from 'playwright-core';
import { ReaderPool } from '../src/server/workers/reader-pool';
import { BrowserRenderer, FLAGS } from '../src/server/survey/browser/browser';
import { findChromium } from '../src/server/net/chromium';
import { SurveyRun } from '../src/server/survey/survey-run';
import { type GatheredPage } from '../src/server/survey/store';
import { parseAllowed } from '../src/server/net/allowed';
import { MemoryStore } from '../src/server/survey/memory-store';
import { userAgent } from '../src/server/survey/request-headers';
import { SiteSource } from '../src/server/survey/site-source';
import type { Scope } from '../src/contract/scope';
import { serveFolder } from './support/nginx';

const folders = process.argv.slice(2);
const PAGES = 50;
const executable = findChromium(process.env['DETTO_CHROMIUM'] || null)!;
const browser = await chromium.launch({ executablePath: executable, args: FLAGS });

async function surveyed(addresses: string[], host: string, reading: Scope['reading']): Promise<GatheredPage[]> {
  const allowed = [parseAllowed(host)];
  const [first, ...more] = addresses as [string, ...string[]];
  const source = new SiteSource(first, { allowed, scope: { addresses: more, follow: false } });
  const renderer = new BrowserRenderer({ executable, allowed, userAgent: userAgent('') });
  const readers = new ReaderPool(2);
  const store = new MemoryStore(addresses.length);
  try {
    await new SurveyRun(source, store, readers, { maxDepth: 0, concurrency: 4, reading, renderer }).gather();
  } finally {
    await renderer.close();
    await source.close();
    readers.close();
  }
  return store.pages;
}

/** What Chromium asks for, and the backgrounds of its computed styles. */
async function shown(address: string) {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const loaded = new Set<string>();
  page.on('request', (request) => void (request.resourceType() === 'image' && loaded.add(request.url())));
  await page.goto(address, { waitUntil: 'networkidle' });
  await page.evaluate(async () => {
    for (let y = 0; y < document.documentElement.scrollHeight; y += 600) {
      scrollTo(0, y);
      await new Promise((resolve) => setTimeout(resolve, 30));
    }
  });
  const computed = await page.evaluate(() =>
    [...document.querySelectorAll('*')].flatMap((element) =>
      [null, '::before', '::after'].flatMap((side) => {
        const style = getComputedStyle(element, side);
        if (side !== null && style.content === 'none') return [];
        return [...style.backgroundImage.matchAll(/url\("([^"]+)"\)/g)].map((m) => m[1]!);
      }),
    ),
  );
  await page.close();
  return { loaded, computed };
}

const count = (all: readonly string[]) => {
  const counts = new Map<string, number>();
  for (const one of all) counts.set(one, (counts.get(one) ?? 0) + 1);
  return counts;
};

for (const folder of folders) {
  const scratch = mkdtempSync(path.join(tmpdir(), 'detto-seen-'));
  const served = await serveFolder(folder, scratch);
  try {
    const files = readdirSync(folder, { recursive: true, encoding: 'utf8' }).filter((f) => f.endsWith('.html'));
    const step = Math.max(1, Math.floor(files.length / PAGES));
    const addresses = files
      .sort()
      .filter((_, i) => i % step === 0)
      .slice(0, PAGES)
      .map((file) => `${served.origin}/${file}`);
    const bySource = new Map((await surveyed(addresses, served.host, 'source')).map((p) => [p.address, p]));
    const rendered = new Map((await surveyed(addresses, served.host, 'browser')).map((p) => [p.address, p]));
    const totals = { pages: 0, loaded: 0, missedBySource: 0, missedRendered: 0, backgrounds: 0, otherBackgrounds: 0 };
    for (const address of addresses) {
      const [source, painted] = [bySource.get(address), rendered.get(address)];
      if (!source || !painted) {
        process.stdout.write(`${address}: not read\n`);
        continue;
      }
      const { loaded, computed } = await shown(address);
      totals.pages++;
      totals.loaded += loaded.size;
      const tell = (what: string, of: Iterable<string>) => {
        for (const one of of)
          process.stdout.write(`${address.replace(served.origin, '')}: ${what} ${one.replace(served.origin, '')}\n`);
      };
      const known = (page: GatheredPage) => new Set([...page.pictures, ...page.pictureOf]);
      const [a, b] = [known(source), known(painted)];
      const [missedA, missedB] = [[...loaded].filter((x) => !a.has(x)), [...loaded].filter((x) => !b.has(x))];
      totals.missedBySource += missedA.length;
      totals.missedRendered += missedB.length;
      tell('loaded, not found by source:', missedA);
      tell('loaded, not found in the browser:', missedB);
      const own = source.reading.appearances
        .filter((x) => x.element === 'css-background')
        .map((x) => source.pictureOf[x.order]!);
      const [mine, theirs] = [count(own), count(computed)];
      totals.backgrounds += computed.length;
      for (const url of new Set([...mine.keys(), ...theirs.keys()])) {
        const difference = (mine.get(url) ?? 0) - (theirs.get(url) ?? 0);
        totals.otherBackgrounds += Math.abs(difference);
        if (difference !== 0)
          tell(`backgrounds, ${mine.get(url) ?? 0} worked out, ${theirs.get(url) ?? 0} computed:`, [url]);
      }
    }
    process.stdout.write(`${path.basename(folder)}: ${JSON.stringify(totals)}\n`);
  } finally {
    served.close();
    rmSync(scratch, { recursive: true, force: true });
  }
}
await browser.close();
