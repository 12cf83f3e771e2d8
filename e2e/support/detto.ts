import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import path from 'node:path';
import axe from 'axe-core';
import { chromium, type Browser, type BrowserContextOptions, type Page } from 'playwright-core';
import { FLAGS } from '../../src/server/survey/browser/browser';
import { DettoProcess, freePort, surveyed } from './detto-process';

/** Address of the Detto that the tests of a file speak to: the one of all, or that of `ownDetto`. */
export let DETTO = process.env['E2E_DETTO']!;
export const SITE = process.env['E2E_SITE']!;
export const DATA = process.env['E2E_DATA']!;
/** Data folder of a Detto that has surveyed the demo site as “Skerry Sound”; to be copied. */
export const PREPARED = path.join(DATA, 'prepared');

export function openBrowser(): Promise<Browser> {
  return chromium.launch({ executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium', args: FLAGS });
}

/** A page at the design size, and everything that went wrong in it. */
export async function openPage(
  browser: Browser,
  options: BrowserContextOptions = {},
): Promise<{ page: Page; problems: string[] }> {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, baseURL: DETTO, ...options });
  const page = await context.newPage();
  // A machine three times slower, or with other work, keeps it; what happens is waited for, never the clock.
  page.setDefaultTimeout(45_000);
  const problems: string[] = [];
  page.on('pageerror', (error) => problems.push(error.message));
  page.on('console', (message) => {
    if (message.type() === 'error' && !message.text().startsWith('Failed to load')) problems.push(message.text());
  });
  page.on('response', (response) => {
    if (response.status() >= 400) problems.push(`${response.status()} ${response.url()}`);
  });
  return { page, problems };
}

/** Surveys the demo site under a name of its own; gives back the id of the collection. */
export async function demoCollection(name: string): Promise<string> {
  return begin({ kind: 'site', where: `${SITE}/`, name });
}

export const begin = (asked: { kind: 'site' | 'folder'; where: string; name: string }): Promise<string> =>
  surveyed(DETTO, asked);

/**
 * Gives the tests of one file a Detto of their own, where the demo site is surveyed already.
 *
 * @returns the id of its collection
 */
export async function ownDetto(): Promise<string> {
  const data = mkdtempSync(path.join(DATA, 'own-'));
  cpSync(PREPARED, data, { recursive: true });
  const detto = new DettoProcess(await freePort(), {
    DETTO_DATA: data,
    DETTO_ALLOW_HOSTS: process.env['E2E_ALLOWED']!,
    DETTO_LOG: 'warn',
  });
  afterAll(async () => {
    await detto.end();
    rmSync(data, { recursive: true, force: true });
  });
  await detto.start();
  DETTO = detto.address;
  return 'skerry-sound';
}

const ALL = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'];
/** Rules of axe-core that depend on colours. */
export const COLOURS = ['color-contrast', 'link-in-text-block'];

/** What axe-core, a general accessibility library, finds wrong on a page: WCAG 2.2 A and AA, or by some rules alone. */
export async function axeViolations(page: Page, runOnly: readonly string[] = ALL): Promise<string[]> {
  // The application's policy lets no foreign script in; through the debugger it goes past that.
  await page.evaluate(axe.source);
  const { violations } = await page.evaluate(
    (wanted) => (window as unknown as { axe: typeof axe }).axe.run(document, { runOnly: wanted }),
    [...runOnly],
  );
  return violations.map(
    (v) =>
      `${v.id}: ${v.nodes
        .map((n) => n.target.join(' '))
        .slice(0, 3)
        .join(' | ')}`,
  );
}

/** Accessible text of what has the focus, for journeys by keyboard. */
export function focused(page: Page): Promise<string> {
  return page.evaluate(() => {
    const at = document.activeElement;
    // The body holds every text of the page: while the focus is on its way, no control has it.
    if (at === document.body) return '';
    return at?.getAttribute('aria-label') ?? at?.textContent?.trim() ?? '';
  });
}

/** Waits until the page listens: before that, a browser shows what the server drew and nobody hears the keys. */
export async function listening(page: Page): Promise<void> {
  await page.waitForFunction(() => {
    const control = document.querySelector('main textarea, main button, main input:not([type=hidden])');
    return control !== null && Object.keys(control).some((key) => key.startsWith('__reactProps'));
  });
}

/** Waits until something on the page has the focus; from the body, nobody can go on by keyboard. */
export async function focusSomewhere(page: Page): Promise<void> {
  await page.waitForFunction(() => document.activeElement !== document.body);
}

/** Presses keys in the editor of long descriptions, each once the editor has heard where the one before has put the caret. */
export async function pressInEditor(page: Page, ...keys: string[]): Promise<void> {
  for (const key of keys) {
    await page.keyboard.press(key);
    // The browser tells it in a task of its own (Selection API, selectionchange event).
    await page.evaluate(() => new Promise((resolve) => requestAnimationFrame(() => setTimeout(resolve))));
  }
}
