/**
 * `npm run bench -- hands`: what an editor waits for, in the real browser, on a collection of 100,000 pictures (or PICTURES):
 * lists drawn, filters, scrolling, findings while typing, and the next picture after a save. Prints medians and 95th
 * percentiles, in milliseconds.
 */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { gzipSync } from 'node:zlib';
import type { Page, Response } from 'playwright-core';
import { DettoProcess, freePort } from '../e2e/support/detto-process';
import { openBrowser } from '../e2e/support/detto';

const PICTURES = Number(process.env['PICTURES'] ?? 100_000);
const folder = mkdtempSync(path.join(tmpdir(), 'detto-hands-'));
process.env['DETTO_DATA'] = folder;
const { seedLargeCollection } = await import('./support/large-collection-data');
const { closeDatabase } = await import('../src/server/db/database');
const { auditAll } = await import('../src/server/audit/audit-collection');
const { closeAuditor } = await import('../src/server/audit/audit-worker');

const at = (times: number[], share: number) =>
  [...times].sort((a, b) => a - b)[Math.min(times.length - 1, Math.floor(share * times.length))]!;
const print = (what: string, times: number[]) =>
  process.stdout.write(`| ${what} | ${at(times, 0.5).toFixed(0)} ms | ${at(times, 0.95).toFixed(0)} ms |\n`);

async function times(rounds: number, work: (i: number) => Promise<number>): Promise<number[]> {
  const all: number[] = [];
  for (let i = 0; i < rounds; i++) all.push(await work(i));
  return all;
}

/** Milliseconds after which something that never came is an error. */
const LIMIT = 60_000;

/** Milliseconds from an act until something holds in the page, on the page's own clock. */
async function until(page: Page, act: () => Promise<unknown>, holds: string): Promise<number> {
  await page.evaluate(
    ({ condition, limit }) => {
      const window_ = window as unknown as { done: Promise<number>; begun: number };
      const test = new Function(`return ${condition}`) as () => boolean;
      window_.begun = performance.now();
      window_.done = new Promise((resolve, reject) => {
        const look = () => {
          const past = performance.now() - window_.begun;
          if (test()) resolve(past);
          else if (past > limit) reject(new Error(`never true: ${condition}`));
          else requestAnimationFrame(look);
        };
        requestAnimationFrame(look);
      });
    },
    { condition: holds, limit: LIMIT },
  );
  await act();
  return page.evaluate(() => (window as unknown as { done: Promise<number> }).done);
}

const browser = await openBrowser();
let detto: DettoProcess | null = null;
try {
  const c = await seedLargeCollection(folder, PICTURES);
  await auditAll(c.id);
  closeAuditor();
  await closeDatabase();
  detto = new DettoProcess(await freePort(), { DETTO_DATA: folder, DETTO_LOG: 'error' });
  await detto.start();
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, baseURL: detto.address });
  let scripts = 0;
  const weigh = (response: Response) => {
    if (!response.url().endsWith('.js')) return;
    void response.body().then(
      (body) => (scripts += gzipSync(body).length),
      () => undefined,
    );
  };
  page.on('response', weigh);
  const open = async (address: string, ready: string) => {
    const begun = performance.now();
    await page.goto(address, { waitUntil: 'commit' });
    await page.locator(ready).first().waitFor();
    return performance.now() - begun;
  };
  const galley = `/c/${c.id}/galley`;
  await open(galley, '[data-cell="0-1"]');
  await page.waitForLoadState('networkidle').catch(() => undefined);
  // Packing what is loaded takes time of its own.
  page.off('response', weigh);
  process.stdout.write(`JavaScript of the first view: ${Math.round(scripts / 1024)} KB gzipped\n`);
  print('Galley, first view', await times(5, () => open(galley, '[data-cell="0-1"]')));
  print('Brief, never counted before', await times(1, () => open(`/c/${c.id}/brief`, 'main h1')));
  await page.waitForTimeout(10_000);
  print('Brief', await times(7, () => open(`/c/${c.id}/brief`, 'main h1')));

  await open(galley, '[data-cell="0-1"]');
  await page.waitForTimeout(1_000);
  const choose = async (name: RegExp, words: string) => {
    await page.getByRole('button', { name }).click();
    await page.getByRole('combobox').fill(words);
    await page.getByRole('option').first().waitFor();
  };
  const isIdle = '!document.querySelector("[aria-busy=true]")';
  /** Until the sentence says another view and its lines are there. */
  const chosen = async () => {
    const before = await page.locator('.sentence').textContent();
    const isOther = `document.querySelector(".sentence").textContent !== ${JSON.stringify(before)}`;
    return until(page, () => page.keyboard.press('Enter'), `${isOther} && ${isIdle}`);
  };
  // The first is not what the Galley opens with.
  const states = ['decorative', 'missing alt text or', 'of any state'];
  print(
    'Galley, a filter to drawn',
    await times(12, async (i) => {
      await choose(/^State/, states[i % states.length]!);
      return chosen();
    }),
  );
  await open(galley, '[data-cell="0-1"]');
  await page.waitForTimeout(500);
  const sorts = ['heaviest', 'longest', 'what to do', 'in the order'];
  print(
    'Galley, an order to drawn',
    await times(12, async (i) => {
      await choose(/^Order/, sorts[i % sorts.length]!);
      return chosen();
    }),
  );
  print(
    'Galley, a search to drawn (250 ms of them the pause)',
    await times(6, (i) =>
      until(
        page,
        () => page.getByRole('searchbox').fill(`picture-${700 + i}`),
        `document.querySelector('[data-index="0"]')?.textContent.includes("picture-${700 + i}") && ${isIdle}`,
      ),
    ),
  );
  await open(galley, '[data-cell="0-1"]');
  const frames = await page.evaluate(
    () =>
      new Promise<number[]>((resolve) => {
        const all: number[] = [];
        let last = performance.now();
        const step = (now: number) => {
          all.push(now - last);
          last = now;
          window.scrollBy(0, 240);
          if (all.length < 300) requestAnimationFrame(step);
          else resolve(all);
        };
        requestAnimationFrame(step);
      }),
  );
  print('Galley, a frame while scrolling', frames);

  await open(`/c/${c.id}/desk?`, 'textarea');
  await page.waitForTimeout(1_500);
  const field = page.getByRole('textbox', { name: 'Alt text' });
  print(
    'Desk, a key to its findings',
    await times(10, async (i) => {
      await field.fill('');
      await page.waitForTimeout(300);
      const wanted = i % 2 === 0 ? 'image' : 'spacer';
      await field.fill(wanted.slice(0, -1));
      await page.waitForTimeout(300);
      const seen = `document.querySelector("#notes").textContent.includes("“${wanted}”")`;
      return until(page, () => page.keyboard.type(wanted.slice(-1)), seen);
    }),
  );
  print(
    'Desk, save and next to the next picture drawn',
    await times(15, async (i) => {
      await field.fill(`Gulls over the harbour, ${i}`);
      const label = await page.locator('.desk-hands p').first().textContent();
      return until(
        page,
        () => page.keyboard.press('Control+Enter'),
        `document.querySelector(".desk-hands p")?.textContent !== ${JSON.stringify(label)} && document.activeElement.tagName === "TEXTAREA"`,
      );
    }),
  );
} finally {
  await browser.close();
  await detto?.end();
  rmSync(folder, { recursive: true, force: true });
}
