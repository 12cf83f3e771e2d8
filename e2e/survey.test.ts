import { DOT, TestSite } from '../src/server/testing/site';
import { strings } from '../src/ui/strings';
import { axeViolations, demoCollection, DETTO, focusSomewhere, listening, SITE } from './support/detto';
import { session } from './support/session';

/** A survey is watched, stopped and taken up again; its log is filtered and taken; the Brief says what to do first. */
const { page, problems } = await session('shared');

const PAGES = 30;

test('a survey is stopped, goes on from where it was, and ends complete', async () => {
  // The first pages come at once; the others are slow until the survey was stopped, so that it is never over before.
  let stopped = false;
  const slow = await TestSite.open(({ url }) => {
    if (url?.endsWith('.gif')) return { headers: { 'content-type': 'image/gif' }, body: DOT };
    const at = Number(/\/slow\/(\d+)/.exec(url ?? '')?.[1] ?? NaN);
    if (Number.isNaN(at)) return undefined;
    const links = Array.from({ length: PAGES }, (_, i) => `<a href="/slow/${i}">x</a>`).join('');
    return {
      delay: stopped || at < 6 ? 0 : 5_000,
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
    await page.getByText(/Gathering\. \d+ pages read/).waitFor();
    await page.getByText('pages a second').waitFor();
    await page.getByRole('button', { name: 'Stop' }).click();
    await page.getByText(/^Stopped\. \d+ pages read, \d+ pages still waiting\.$/).waitFor();
    stopped = true;
    await focusSomewhere(page);
    const before = slow.asked.filter((url) => url.startsWith('/slow/')).length;
    expect(before).toBeLessThan(PAGES);
    await page.getByRole('button', { name: 'Resume' }).click();
    await page.getByText(`Done. 1 picture file on ${PAGES} pages.`).waitFor();
    // What was in hand when it was stopped is asked for again, at most.
    expect(slow.asked.filter((url) => url.startsWith('/slow/')).length).toBeLessThanOrEqual(PAGES + 4);
  } finally {
    await slow.close();
  }
});

test('the log is filtered by what became of the addresses, and taken as a table', async () => {
  const id = await demoCollection('Account test');
  await page.goto(`/c/${id}/survey`);
  await page.getByRole('combobox', { name: /Outcome/ }).click();
  await page.getByRole('option', { name: 'on other hosts 1' }).click();
  await page.waitForURL('**what=other-host**');
  const log = page.getByRole('region', { name: 'Survey log' });
  await log.getByText('https://harbour-trust.example/').waitFor();
  await log.getByText('blocked by robots.txt').waitFor({ state: 'detached' });
  expect(await log.getByRole('listitem').count()).toBe(1);
  await log.getByText(`found on ${SITE}/harbour`).waitFor();
  const href = await log.getByRole('link', { name: 'Download the log (CSV)' }).getAttribute('href');
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
  await page.getByRole('region', { name: 'Surveys so far' }).getByText('19 pages new, 0 changed, 0 gone.').waitFor();
});

test('what the next survey goes by is changed, by keyboard alone, and the next survey goes by it', async () => {
  const id = await demoCollection('Bounds test');
  await page.goto(`/c/${id}/survey`);
  await listening(page);
  await page.getByText('Limits of the next survey').press('Enter');
  const leftOut = page.getByRole('textbox', { name: strings.shelf.exclude });
  await leftOut.focus();
  await page.keyboard.type('/staff*');
  expect(await axeViolations(page)).toEqual([]);
  await page.getByRole('button', { name: 'Save for the next survey' }).press('Enter');
  await page.getByText('Saved. The next survey uses them.').waitFor();
  await page.reload();
  await listening(page);
  await page.getByText('Limits of the next survey').press('Enter');
  expect(await leftOut.inputValue()).toBe('/staff*');
  await page.getByRole('spinbutton', { name: strings.shelf.pagesAnd }).fill('3');
  await page.getByRole('button', { name: 'Save for the next survey' }).press('Enter');
  await page.getByText('Saved. The next survey uses them.').waitFor();
  await page.getByRole('button', { name: 'Survey again' }).press('Enter');
  await page.getByText(/^Done\. .* on 3 pages\.$/).waitFor();
});

test('a list of addresses is surveyed, and nothing beyond', async () => {
  await page.goto('/');
  await page.getByRole('combobox', { name: /What to survey/ }).click();
  await page.getByRole('option', { name: 'a list of addresses' }).click();
  await page.getByLabel('Addresses, one a line').fill(`page,address\nFares,${SITE}/fares\nTides,${SITE}/tides`);
  await page.getByRole('button', { name: 'Survey it' }).click();
  await page.getByText('Done. 11 picture files on 2 pages.').waitFor();
});

test('a page that its script makes is opened in a browser, and says so wherever it stands', async () => {
  const id = await demoCollection('Script test');
  await page.goto(`/c/${id}/survey?what=read`);
  const made = page
    .getByRole('region', { name: 'Survey log' })
    .getByRole('listitem')
    .filter({ hasText: '/departures' });
  await made.getByText('read, in a browser').waitFor();
  const beside = page.getByRole('region', { name: 'Icons and previews' });
  await beside.getByText('The Skerry Lass between two islands').waitFor();
  await beside.getByRole('listitem').filter({ hasText: 'icon' }).getByText('18 pages, 200 × 200').waitFor();
  await page.goto(`/c/${id}/galley?q=cycle-ticket`);
  await page.getByText('A script adds it; it is not in the page as the server sends it.').waitFor();
  await page
    .getByRole('link', { name: /Bicycle/ })
    .first()
    .click();
  await page.waitForURL('**/desk/**');
  await page
    .getByRole('region', { name: /^Use this text/ })
    .getByText('added by a script')
    .waitFor();
  await page.getByRole('textbox', { name: 'Alt text' }).fill('A ticket for a bicycle, on the house');
  await page.getByText('Saved', { exact: true }).waitFor();
  await page.goto(`/c/${id}/delivery`);
  // While the page is streamed, what is not shown yet stands beside what is.
  await page.locator('#sheet').getByText('A script puts it there; it does not stand in the page.').waitFor();
});

test('a site behind a password is surveyed with it, and nobody is shown it again', async () => {
  const secret = 'of-the-quay-7';
  const closed = await TestSite.open(({ url, headers }) => {
    if (url === '/robots.txt') return undefined;
    if (headers.authorization !== `Basic ${Buffer.from(`editor:${secret}`).toString('base64')}`)
      return { status: 401, headers: { 'www-authenticate': 'Basic' } };
    return url === '/' ? { body: '<html lang="en"><title>Staging</title><p>Only for us.</p>' } : undefined;
  }, process.env['E2E_SLOW_PORT']);
  try {
    await page.goto('/');
    await page.getByLabel('Address of the site').fill(`${closed.origin}/`);
    await page.getByText('Limits, crawl rate and sign-in').click();
    await page.getByLabel('user name').fill('editor');
    await page.getByLabel('and password, or').fill(secret);
    await page.getByRole('button', { name: 'Survey it' }).click();
    await page.getByText('Done. 0 picture files on 1 page.').waitFor();
    expect(await page.content()).not.toContain(secret);
    expect(await (await fetch(`${DETTO}/api/collections`)).text()).not.toContain(secret);
    const { id } = ((await (await fetch(`${DETTO}/api/collections`)).json()) as { id: string; root: string }[]).find(
      ({ root }) => root === `${closed.origin}/`,
    )!;
    // Sent as this whole header to the site alone; a collection without it is refused.
    const open = await fetch(`${DETTO}/api/collections`, {
      method: 'POST',
      body: JSON.stringify({ kind: 'site', where: `${closed.origin}/`, name: 'Without' }),
    });
    const without = ((await open.json()) as { id: string }).id;
    expect(without).not.toBe(id);
    await page.goto(`/c/${without}/survey`);
    await page.getByText('the server answered 401').first().waitFor();
  } finally {
    await closed.close();
  }
});

test('the addresses of a table are taken out of its file', async () => {
  await page.goto('/');
  await page.getByRole('combobox', { name: /What to survey/ }).click();
  await page.getByRole('option', { name: 'a list of addresses' }).click();
  await page.getByLabel('or out of a table (XLSX, CSV)').setInputFiles({
    name: 'pages.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(`page,address\nCrew,${SITE}/crew\n`),
  });
  await page.getByRole('button', { name: 'Survey it' }).click();
  await page.getByText(/^Done\. \d+ picture files on 1 page\.$/).waitFor();
});

test('the Brief says the state in a sentence, and which one change fixes most', async () => {
  const id = await demoCollection('Brief test');
  await page.goto(`/c/${id}`);
  await page.waitForURL('**/brief');
  await page
    .getByRole('heading', {
      name: /^Of 72 pictures, 21 have good alt text, 6 are decorative, 12 are missing alt text and 33 need a check\./,
    })
    .waitFor();
  const first = page.getByRole('region', { name: 'What to do first' }).getByRole('listitem').first();
  await first.getByText('One change to the crew card').waitFor();
  await first.getByText('fixes 7 places on 7 pages: missing alt text').waitFor();
  await first.getByRole('link', { name: /Show this place/ }).click();
  await page.waitForURL('**/desk/**');
  await page.goBack();
  await page.getByRole('link', { name: 'Placeholder' }).click();
  await page.getByText('4 of 72 pictures').waitFor();
});

test('nothing went wrong in the page meanwhile', () => expect(problems).toEqual([]));
