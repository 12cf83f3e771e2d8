import type { Browser, Page } from 'playwright-core';
import { axeViolations, COLOURS, DETTO, focused, openBrowser, openPage, ownDetto } from './support/detto';
import { datedSample } from './support/dated-sample';

/** Every screen: axe-core finds nothing, in both themes; it fits 320 px; and it works by keyboard alone. */
let browser: Browser;
const collection = await ownDetto();
let picture: number;

beforeAll(async () => {
  browser = await openBrowser();
  const response = await fetch(`${DETTO}/api/collections/${collection}/lines?q=IMG_2041`);
  picture = ((await response.json()) as { lines: { id: number }[] }).lines[0]!.id;
  // Drafts of every kind, without a service.
  const order = { target: { kind: 'view', view: {}, except: [] }, service: null, existing: 'replace' };
  const round = await fetch(`${DETTO}/api/collections/${collection}/rounds`, {
    method: 'POST',
    body: JSON.stringify({ order }),
  });
  if (!round.ok) throw new Error(await round.text());
});
afterAll(() => browser.close());

const PLACES: [name: string, address: () => string][] = [
  ['Shelf', () => '/'],
  ['Brief', () => `/c/${collection}/brief`],
  ['Survey', () => `/c/${collection}/survey`],
  ['Galley', () => `/c/${collection}/galley`],
  ['Galley by page', () => `/c/${collection}/galley?group=page`],
  ['Galley on paper', () => `/c/${collection}/galley/print?state=missing`],
  ['Galley with nothing in it', () => `/c/${collection}/galley?q=nosuchthing`],
  ['Desk', () => `/c/${collection}/desk/${picture}`],
  ['Rounds', () => `/c/${collection}/rounds`],
  ['Reading drafts', () => `/c/${collection}/rounds/read`],
  ['Delivery', () => `/c/${collection}/delivery`],
  ['Rules', () => `/c/${collection}/rules`],
  ['a rule', () => `/c/${collection}/rules/echo`],
  ['House style', () => `/c/${collection}/style`],
  ['nothing', () => '/c/no-such-collection/galley'],
];

/** What is folded away counts too. */
async function unfold(page: Page): Promise<void> {
  await page.locator('#sheet').waitFor();
  await page.evaluate(() => document.querySelectorAll('details').forEach((details) => (details.open = true)));
}

describe.each(datedSample(PLACES))('%s', (_, address) => {
  let page: Page;
  afterEach(() => page.context().close());

  test('axe-core finds nothing, light and dark', async () => {
    ({ page } = await openPage(browser, { colorScheme: 'light', reducedMotion: 'reduce' }));
    await page.goto(address());
    await unfold(page);
    expect(await axeViolations(page)).toEqual([]);
    // The themes differ in their colours alone.
    await page.emulateMedia({ colorScheme: 'dark' });
    expect(await axeViolations(page, COLOURS)).toEqual([]);
  });

  test('at 320 px nothing is cut off sideways', async () => {
    ({ page } = await openPage(browser, { viewport: { width: 320, height: 640 } }));
    await page.goto(address());
    await unfold(page);
    const { scroll, width } = await page.evaluate(() => ({
      scroll: document.documentElement.scrollWidth,
      width: document.documentElement.clientWidth,
    }));
    expect(scroll).toBe(width);
  });
});

test('by keyboard alone: from the shelf to the words and into the delivery', async () => {
  const { page } = await openPage(browser);
  const tabTo = async (wanted: RegExp, most = 60) => {
    for (let i = 0; i < most; i++) {
      await page.keyboard.press('Tab');
      if (wanted.test(await focused(page))) return;
    }
    throw new Error(`${wanted} was not reached by Tab`);
  };
  await page.goto('/');
  await page.keyboard.press('Tab');
  expect(await focused(page)).toBe('Skip to main content');
  await tabTo(/^Open Skerry Sound|^Skerry Sound/);
  await page.keyboard.press('Enter');
  await page.waitForURL('**/brief');
  await tabTo(/^Galley/);
  await page.keyboard.press('Enter');
  await page.waitForURL('**/galley');
  await tabTo(/^State/);
  await page.keyboard.press('Enter');
  await page.getByRole('option', { name: /missing alt text or to check/ }).waitFor();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await page.waitForURL('**state=todo**');
  await page.locator('[aria-busy=false] [data-cell]').first().waitFor();
  await tabTo(/divider|No alt text/);
  await page.keyboard.press('Enter');
  await page.waitForURL('**/desk/**');
  // Who opens a picture comes to write: no Tab at all.
  await page.waitForFunction(() => document.activeElement?.tagName === 'TEXTAREA');
  await page.keyboard.press('ControlOrMeta+a');
  const saved = page.waitForResponse((r) => r.request().method() === 'PUT' && r.url().endsWith('/wordings'));
  await page.keyboard.type('Waves');
  const before = page.url();
  await page.keyboard.press('Control+Enter');
  await page.waitForURL((url) => url.href !== before);
  await saved;
  await page.goto(`/c/${collection}/delivery`);
  // It comes once the pages have been compared.
  await page.getByRole('button', { name: /^Download changed files/ }).waitFor();
  await tabTo(/^Download changed files/);
  await page.context().close();
});

test('by keyboard alone: how the pages of a site are read is chosen on the shelf', async () => {
  const { page } = await openPage(browser);
  await page.goto('/');
  await page.getByLabel('Address of the site').focus();
  const tabTo = async (wanted: RegExp) => {
    for (let i = 0; i < 30 && !wanted.test(await focused(page)); i++) await page.keyboard.press('Tab');
    expect(await focused(page)).toMatch(wanted);
  };
  await tabTo(/Limits, crawl rate and sign-in/);
  await page.keyboard.press('Enter');
  await tabTo(/How pages are read/);
  await page.keyboard.press('Enter');
  await page.getByRole('option', { name: 'in a browser, with their scripts' }).waitFor();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await page.getByRole('combobox', { name: 'How pages are read: in a browser, with their scripts' }).waitFor();
  expect(await page.locator('input[name=reading]').inputValue()).toBe('browser');
  await page.context().close();
});

test.each(['light', 'dark'] as const)('axe-core finds nothing in open lists and dialogs, %s', async (colorScheme) => {
  const { page } = await openPage(browser, { colorScheme, reducedMotion: 'reduce' });
  await page.goto(`/c/${collection}/galley`);
  await page.locator('[data-cell="0-1"]').focus();
  const violations: string[] = [];
  // The themes differ in their colours alone.
  const rules = colorScheme === 'dark' ? COLOURS : undefined;
  const look = async (what: string) =>
    violations.push(...(await axeViolations(page, rules)).map((v) => `${what}: ${v}`));
  await page.getByRole('button', { name: /^Finding/ }).click();
  await page.getByRole('option').nth(3).waitFor();
  await look('a choice');
  await page.keyboard.press('Escape');
  await page.keyboard.press('F1');
  await page.getByRole('dialog', { name: 'Keys' }).waitFor();
  await look('keys');
  await page.keyboard.press('Escape');
  await page.getByRole('checkbox').first().check();
  for (const act of ['Use one alt text', 'Set purpose', 'Ignore a finding']) {
    await page.getByRole('region', { name: 'Selection' }).getByRole('button', { name: act }).click();
    await page.getByRole('dialog', { name: act }).waitFor();
    await look(act);
    await page.keyboard.press('Escape');
  }
  await page.getByRole('button', { name: 'Clear selection' }).click();
  await page.getByRole('button', { name: 'Find and replace' }).click();
  await page.keyboard.type('quay');
  await page
    .getByRole('dialog')
    .getByRole('checkbox', { name: /^Change/ })
    .first()
    .waitFor();
  await look('find and replace');
  await page.keyboard.press('Escape');
  expect(violations).toEqual([]);
  await page.context().close();
});

test('narrowing an open Brief leaves nothing wide', async () => {
  const { page } = await openPage(browser);
  await page.goto(`/c/${collection}/brief`);
  await page.locator('canvas').first().waitFor();
  await page.setViewportSize({ width: 320, height: 700 });
  await page.waitForFunction(() => document.documentElement.scrollWidth === document.documentElement.clientWidth);
  await page.context().close();
});
