import type { Browser, Page } from 'playwright-core';
import { axeViolations, DETTO, openBrowser, openPage, ownDetto } from './support/detto';

/** Drafts in rounds and how they are read, on the production build, against the stand-in service. */
const SERVICE = process.env['E2E_SERVICE']!;
let browser: Browser;
let page: Page;
let problems: string[];
const collection = await ownDetto();

const control = async (body: object = {}) =>
  (await (await fetch(`${SERVICE}/control`, { method: 'POST', body: JSON.stringify(body) })).json()) as {
    requests: number;
    answered: number;
  };
const rounds = async () =>
  (await (await fetch(`${DETTO}/api/collections/${collection}/rounds`)).json()) as {
    id: number;
    state: string;
    toRead: number;
    accepted: number;
    edited: number;
    rejected: number;
  }[];

beforeAll(async () => {
  browser = await openBrowser();
  ({ page, problems } = await openPage(browser));
});
afterAll(() => browser.close());

const dialog = (name: RegExp) => page.getByRole('dialog', { name });

test('a service is set up with a key that is never shown again, and tested', async () => {
  await page.goto(`/c/${collection}/rounds`);
  await page.getByRole('heading', { level: 1, name: 'No drafts to review.' }).waitFor();
  await page.getByRole('button', { name: 'Add a service' }).click();
  const form = dialog(/^Add a drafting service/);
  await form.getByLabel('Name', { exact: true }).fill('Harbour');
  await form.getByLabel(/^Address/).fill('not an address');
  await form.getByLabel('Model', { exact: true }).fill('harbour-vision');
  await form.getByLabel('Key', { exact: true }).fill('wrong-key');
  await form.getByLabel('Requests a minute').fill('6000');
  await form.getByLabel('Price per million tokens in').fill('2.5');
  await form.getByRole('button', { name: 'Save' }).click();
  // What is wrong is said, and what was entered stays.
  await form.getByRole('alert').waitFor();
  expect(await form.getByLabel('Name', { exact: true }).inputValue()).toBe('Harbour');
  await form.getByLabel(/^Address/).fill(`${SERVICE}/v1`);
  await form.getByRole('button', { name: 'Save' }).click();
  await page.getByRole('button', { name: 'Test Harbour' }).click();
  await page.getByText(/^It does not work: .* does not accept the key/).waitFor();
  await page.getByRole('button', { name: 'Edit Harbour' }).click();
  const edit = dialog(/^Edit Harbour/);
  expect(await edit.getByLabel('Key', { exact: true }).inputValue()).toBe('');
  await edit.getByLabel('Key', { exact: true }).fill('harbour-demo-key');
  await edit.getByRole('button', { name: 'Save' }).click();
  await page.getByRole('button', { name: 'Test Harbour' }).click();
  await page.getByText(/^It works: “/).waitFor();
  expect(await page.content()).not.toContain('harbour-demo-key');
});

test('a round is estimated before anything is sent, and goes on by itself', async () => {
  await control({ reset: true });
  await page.goto(`/c/${collection}/galley?state=missing`);
  await page.getByRole('button', { name: 'Draft …' }).click();
  const form = dialog(/^Start a round/);
  await form.getByText(/It costs nothing/).waitFor();
  await form.getByRole('radio', { name: /^Harbour/ }).check();
  await form.getByText(/^Each request sends the picture/).waitFor();
  expect((await control()).requests).toBe(0);
  expect(await axeViolations(page)).toEqual([]);
  await form.getByText('What is sent for the first picture').click();
  await form.getByText(/<page-data>/).waitFor();
  await form.getByRole('button', { name: 'Start', exact: true }).click();
  await page.getByText('Round started.').first().waitFor();
  await page.goto(`/c/${collection}/rounds`);
  // Look-alikes wait for the best of their series; without it, they are drafted when that is asked for.
  await page.getByText(/wait until the best of their series is worded/).waitFor();
  await page.getByRole('button', { name: /^Resume/ }).click();
  await page.getByText(/^done ·/).waitFor();
  await page.getByRole('heading', { level: 1, name: /^\d+ drafts to read\.$/ }).waitFor();
});

test('drafts are read by keyboard alone: accepted, edited, rejected, undone', async () => {
  await page.goto(`/c/${collection}/rounds/read`);
  const heading = page.getByRole('heading', { level: 1 });
  await heading.getByText(/^1 of \d+ drafts$/).waitFor();
  const total = Number(/of (\d+)/.exec((await heading.textContent())!)![1]);
  const draft = page.getByRole('region', { name: 'Draft' });
  const text = () => draft.locator('.font-heard').first().textContent();
  await page.waitForFunction(() => document.activeElement?.getAttribute('aria-label') === 'Draft');
  expect(await axeViolations(page)).toEqual([]);
  const left = (n: number) => heading.getByText(new RegExp(`^\\d+ of ${n} drafts?$`)).waitFor();
  await page.keyboard.press('Enter');
  await left(total - 1);
  await page.keyboard.press('F2');
  await page.getByLabel('Alt text').waitFor();
  await page.keyboard.type(' today');
  await page.keyboard.press('Enter');
  await left(total - 2);
  const third = await text();
  await page.keyboard.press('Delete');
  await dialog(/^Reject/).waitFor();
  expect(await axeViolations(page)).toEqual([]);
  await page.keyboard.press('2');
  await left(total - 3);
  await page.waitForFunction(() => document.activeElement?.getAttribute('aria-label') === 'Draft');
  // The page itself, on a key.
  await page.keyboard.press('F9');
  await page.frameLocator('iframe').locator('body').waitFor();
  // It takes no focus, whatever is on it.
  await page.waitForTimeout(500);
  expect(await page.evaluate(() => document.activeElement?.tagName)).toBe('SECTION');
  await page.keyboard.press('F9');
  await page.locator('iframe').waitFor({ state: 'detached' });
  let [own] = await rounds();
  for (let i = 0; i < 50 && own!.rejected === 0; i++) [own] = await rounds();
  expect([own!.accepted > 0, own!.edited > 0, own!.rejected > 0]).toEqual([true, true, true]);
  await page.keyboard.press('Control+z');
  await page.getByText(/^Undone: draft of .* rejected/).waitFor();
  await left(total - 2);
  [own] = await rounds();
  expect(own!.rejected).toBe(0);
  expect(third).not.toBe('');
});

test('those without findings are accepted together only after a sample was read, in one act', async () => {
  // A round of its own, of which nothing was read yet.
  const services = (await (await fetch(`${DETTO}/api/drafting-services`)).json()) as { id: number }[];
  const order = { target: { kind: 'view', view: {}, except: [] }, service: services[0]!.id, existing: 'replace' };
  await fetch(`${DETTO}/api/collections/${collection}/rounds`, { method: 'POST', body: JSON.stringify({ order }) });
  let [own] = await rounds();
  for (let i = 0; i < 400 && own!.toRead < 30; i++) {
    await page.waitForTimeout(100);
    [own] = await rounds();
  }
  await page.goto(`/c/${collection}/rounds/read?round=${own!.id}`);
  const clean = page.getByRole('button', { name: /^Accept the \d+ without findings/ });
  await clean.click();
  const form = dialog(/^Accept \d+ drafts? without findings/);
  await form.getByText('Read 5 more drafts first', { exact: false }).waitFor();
  expect(await form.getByRole('button', { name: /^Accept/ }).isDisabled()).toBe(true);
  await form.getByRole('button', { name: 'Cancel' }).click();
  const draft = page.getByRole('region', { name: 'Draft' });
  for (let i = 0; i < 5; i++) {
    await draft.focus();
    await page.keyboard.press('Delete');
    await dialog(/^Reject/).waitFor();
    await page.keyboard.press('6');
    await dialog(/^Reject/).waitFor({ state: 'detached' });
  }
  await page.getByText(/· (?:[5-9]|\d\d) rejected/).waitFor();
  await clean.click();
  await form.getByRole('button', { name: /^Accept/ }).click();
  await page.getByText(/^Drafts accepted in \d+ places?\./).waitFor();
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByText('Undone: drafts without findings accepted').waitFor();
});

test('what became of drafts is counted by drafter and prompt', async () => {
  await page.goto(`/c/${collection}/rounds`);
  const row = page.getByRole('row', { name: /^Harbour/ });
  await row.getByText('1.0', { exact: true }).waitFor();
  await row
    .getByText(/too vague|something else/)
    .first()
    .waitFor();
});

test('a draft with a gap is not accepted before it is filled, neither where drafts are read nor at the Desk', async () => {
  const order = { target: { kind: 'view', view: { q: 'passengers' }, except: [] }, service: null, existing: 'replace' };
  await fetch(`${DETTO}/api/collections/${collection}/rounds`, { method: 'POST', body: JSON.stringify({ order }) });
  let [own] = await rounds();
  for (let i = 0; i < 200 && own!.state !== 'done'; i++) {
    await page.waitForTimeout(100);
    [own] = await rounds();
  }
  await page.goto(`/c/${collection}/rounds/read?round=${own!.id}`);
  const draft = page.getByRole('region', { name: 'Draft' });
  await draft.getByText('Fill the gaps before you accept it.').waitFor();
  await draft.focus();
  await page.keyboard.press('Enter');
  const field = page.getByLabel('Alt text');
  await field.waitFor();
  expect(await page.getByRole('button', { name: /^Save and accept/ }).isDisabled()).toBe(true);
  // Its first gap is selected, so that writing fills it.
  await page.keyboard.type('the bay');
  expect(await field.inputValue()).not.toContain('‹');
  await page.keyboard.press('Enter');
  await field.waitFor({ state: 'detached' });
});

test('bad credit is said where the round stands, and it goes on once there is some', async () => {
  await control({ balance: 0 });
  const services = (await (await fetch(`${DETTO}/api/drafting-services`)).json()) as { id: number }[];
  const order = { target: { kind: 'view', view: {}, except: [] }, service: services[0]!.id, existing: 'replace' };
  await fetch(`${DETTO}/api/collections/${collection}/rounds`, { method: 'POST', body: JSON.stringify({ order }) });
  await page.goto(`/c/${collection}/rounds`);
  await page.getByText(/^The credit at .* is used up/).waitFor();
  expect(await axeViolations(page)).toEqual([]);
  await control({ balance: 5 });
  await page
    .getByRole('button', { name: /^Resume/ })
    .first()
    .click();
  await page.getByText(/^running ·/).waitFor();
  await page.getByRole('button', { name: /^Stop/ }).first().click();
  await page.getByText(/^stopped ·/).waitFor();
});

test('nothing went wrong on the way', () =>
  expect(problems.filter((p) => !/Content Security Policy|sandboxed|400|404/.test(p))).toEqual([]));
