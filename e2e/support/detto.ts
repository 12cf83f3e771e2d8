import axe from 'axe-core';
import { chromium, type Browser, type BrowserContextOptions, type Page } from 'playwright-core';
import { FLAGS } from '../../src/server/survey/browser/browser';

export const DETTO = process.env['E2E_DETTO']!;
export const SITE = process.env['E2E_SITE']!;
export const DATA = process.env['E2E_DATA']!;

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
  page.setDefaultTimeout(15_000);
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

export async function begin(asked: { kind: 'site' | 'folder'; where: string; name: string }): Promise<string> {
  const response = await fetch(`${DETTO}/api/collections`, { method: 'POST', body: JSON.stringify(asked) });
  const { id, error } = (await response.json()) as { id: string; error?: string };
  if (error) throw new Error(error);
  for (let i = 0; i < 900; i++) {
    const shelf = (await (await fetch(`${DETTO}/api/collections`)).json()) as {
      id: string;
      survey: { state: string };
      isAnalysing: boolean;
    }[];
    const own = shelf.find((c) => c.id === id);
    // What is found by looking at the pictures comes after the survey, and would come in between.
    if (own?.survey.state !== 'running' && !own?.isAnalysing) return id;
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
  throw new Error('The survey, or looking at the pictures, did not end.');
}

/** What axe-core, a general accessibility library, finds wrong on a page: WCAG 2.2 A and AA. */
export async function axeViolations(page: Page): Promise<string[]> {
  // The application's policy lets no foreign script in; through the debugger it goes past that.
  await page.evaluate(axe.source);
  const { violations } = await page.evaluate(() =>
    (window as unknown as { axe: typeof axe }).axe.run(document, {
      runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'],
    }),
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
