import type { Browser } from 'playwright-core';
import { auditOptions } from '../cli/arguments';
import { audit } from '../cli/audit';
import type { AuditReport } from '../cli/report';
import { openBrowser, openPage, SITE } from './support/detto';

/** The pictures that Detto finds in the source, against those that Chromium itself loads and computes. */
let browser: Browser;
let report: AuditReport;

beforeAll(async () => {
  browser = await openBrowser();
  const options = auditOptions(['audit', `${SITE}/`, '--allow-host', new URL(SITE).host]);
  report = await audit(options, process.cwd(), () => undefined);
});
afterAll(() => browser.close());

test('every picture that Chromium loads on a page of the demo is found there', async () => {
  const { page } = await openPage(browser);
  const missing: string[] = [];
  for (const { path } of report.pages) {
    await page.goto(path, { waitUntil: 'networkidle' });
    const loaded = await page.evaluate(() =>
      performance
        .getEntriesByType('resource')
        .map((entry) => entry.name)
        .filter((name) => name.includes('/pictures/')),
    );
    const found = new Set([...report.appearances, ...report.apart].filter((a) => a.page === path).map((a) => a.src));
    missing.push(...loaded.filter((name) => !found.has(name)).map((name) => `${name} on ${path}`));
  }
  expect(missing).toEqual([]);
});

test('backgrounds are those of Chromium’s computed styles', async () => {
  const { page } = await openPage(browser);
  for (const { path } of report.pages) {
    await page.goto(path);
    const computed = await page.evaluate(() =>
      [...document.querySelectorAll('body *')].flatMap((element) =>
        [...getComputedStyle(element).backgroundImage.matchAll(/url\("([^"]+)"\)/g)].map((m) => m[1]!),
      ),
    );
    const found = report.appearances.filter((a) => a.page === path && a.element === 'css-background').map((a) => a.src);
    expect([path, found]).toEqual([path, computed]);
  }
});
