import type { Browser, Page } from 'playwright-core';
import { DOT, TestSite } from '../src/server/testing/site';
import { demoCollection, DETTO, openBrowser, openPage, SITE } from './support/detto';

/** A survey is watched, stopped and taken up again; its account is filtered and taken; the Brief says what to do first. */
let browser: Browser;
let page: Page;
let problems: string[];

const PAGES = 30;

beforeAll(async () => {
  browser = await openBrowser();
  ({ page, problems } = await openPage(browser));
});
afterAll(() => browser.close());

test('a survey is stopped, goes on from where it was, and ends complete', async () => {
  const slow = await TestSite.open(({ url }) => {
    if (url?.endsWith('.gif')) return { headers: { 'content-type': 'image/gif' }, body: DOT };
    const at = Number(/\/slow\/(\d+)/.exec(url ?? '')?.[1] ?? NaN);
    if (Number.isNaN(at)) return undefined;
    const links = Array.from({ length: PAGES }, (_, i) => `<a href="/slow/${i}">x</a>`).join('');
    return {
      delay: 250,
      body: `<html lang="en"><title>Page ${at}</title><img src="/dot.gif" alt="Dot ${at}">${links}`,
    };
  }, process.env['E2E_SLOW_PORT']);
  try {
    const response = await fetch(`${DETTO}/api/collections`, {
      method: 'POST',
      body: JSON.stringify({ kind: 'site', where: `${slow.origin}/slow/0`, name: 'Slow site' }),
    });
    const { id } = (await response.json()) as { id: string };
    await page.goto(`/c/${id}/survey`);
    await page.getByText(/Gathering\. [2-9] pages read/).waitFor();
    await page.getByText('pages a second').waitFor();
    await page.getByRole('button', { name: 'Stop' }).click();
    await page.getByText(/^Stopped\. \d+ pages read, \d+ pages still waiting\.$/).waitFor();
    const before = slow.asked.filter((url) => url.startsWith('/slow/')).length;
    expect(before).toBeLessThan(PAGES);
    await page.getByRole('button', { name: 'Go on' }).click();
    await page.getByText(`Done. 1 picture file on ${PAGES} pages.`).waitFor();
    // What was in hand when it was stopped is asked for again, at most.
    expect(slow.asked.filter((url) => url.startsWith('/slow/')).length).toBeLessThanOrEqual(PAGES + 4);
  } finally {
    await slow.close();
  }
});

test('the account is filtered by what became of the addresses, and taken as a table', async () => {
  const id = await demoCollection('Account test');
  await page.goto(`/c/${id}/survey`);
  await page.getByRole('combobox', { name: /What became of them/ }).click();
  await page.getByRole('option', { name: 'on other hosts 1' }).click();
  await page.waitForURL('**what=other-host**');
  const account = page.getByRole('region', { name: 'The account' });
  await account.getByText('https://harbour-trust.example/').waitFor();
  await account.getByText('blocked by robots.txt').waitFor({ state: 'detached' });
  expect(await account.getByRole('listitem').count()).toBe(1);
  await account.getByText(`found on ${SITE}/harbour`).waitFor();
  const href = await account.getByRole('link', { name: 'Take the account (CSV)' }).getAttribute('href');
  const lines = (await (await fetch(DETTO + href)).text()).trim().split('\r\n');
  expect(lines).toEqual([
    'address,kind,state,reason,cause,status,foundOn',
    `https://harbour-trust.example/,page,skipped,"on another host, harbour-trust.example",other-host,,${SITE}/harbour`,
  ]);
});

test('surveyed again, it says that nothing has changed', async () => {
  const id = await demoCollection('Again test');
  await page.goto(`/c/${id}/survey`);
  await page.getByRole('button', { name: 'Survey again' }).click();
  await page.getByText('Nothing has changed since the survey before.').first().waitFor();
  await page.getByRole('region', { name: 'Surveys so far' }).getByText('16 pages new, 0 changed, 0 gone.').waitFor();
});

test('a list of addresses is surveyed, and nothing beyond', async () => {
  await page.goto('/');
  await page.getByRole('combobox', { name: /What to survey/ }).click();
  await page.getByRole('option', { name: 'a list of addresses' }).click();
  await page.getByLabel('Addresses, one a line').fill(`page,address\nFares,${SITE}/fares\nTides,${SITE}/tides`);
  await page.getByRole('button', { name: 'Survey it' }).click();
  await page.getByText('Done. 8 picture files on 2 pages.').waitFor();
});

test('the Brief says the state in a sentence, and which one change mends most', async () => {
  const id = await demoCollection('Brief test');
  await page.goto(`/c/${id}`);
  await page.waitForURL('**/brief');
  await page
    .getByRole('heading', {
      name: /^Of 47 pictures, 17 say what they should, 4 are silent on purpose, 9 say nothing and 17 need a look\./,
    })
    .waitFor();
  const first = page.getByRole('region', { name: 'First, by reach' }).getByRole('listitem').first();
  await first.getByText('One change in the crew card').waitFor();
  await first.getByText('mends 7 places on 7 pages: no alt text, link or button with no name').waitFor();
  await first.getByRole('link', { name: /Show the place/ }).click();
  await page.waitForURL('**/desk/**');
  await page.goBack();
  await page.getByRole('link', { name: 'Placeholder' }).click();
  await page.getByText('4 of 47 pictures').waitFor();
});

test('nothing went wrong in the page meanwhile', () => expect(problems).toEqual([]));
