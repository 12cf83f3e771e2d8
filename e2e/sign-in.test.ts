import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Browser } from 'playwright-core';
import { DettoProcess } from './support/detto-process';
import { axeViolations, openBrowser, openPage } from './support/detto';

/** Nobody comes in without the token, where one is set. */
const TOKEN = 'skerry sound, boats & light';
const data = mkdtempSync(path.join(tmpdir(), 'detto-sign-in-'));
const detto = new DettoProcess(Number(process.env['E2E_SLOW_PORT']), { DETTO_DATA: data, DETTO_TOKEN: TOKEN });
let browser: Browser;

beforeAll(async () => {
  browser = await openBrowser();
  await detto.start();
});
afterAll(async () => {
  await browser.close();
  await detto.end();
  rmSync(data, { recursive: true, force: true });
});

const ask = (path: string, headers: Record<string, string> = {}, method = 'GET') =>
  fetch(`${detto.address}${path}`, { method, headers, redirect: 'manual' });

test('pages lead to signing in; data, files and changes are refused', async () => {
  const page = await ask('/c/skerry/brief?x=1');
  expect(page.status).toBe(303);
  const to = new URL(page.headers.get('location')!, detto.address);
  expect([to.pathname, to.searchParams.get('to')]).toEqual(['/sign-in', '/c/skerry/brief?x=1']);
  expect((await ask('/api/collections')).status).toBe(401);
  expect((await ask('/api/uploads', {}, 'POST')).status).toBe(401);
  expect((await ask('/api/uploads/zip?name=x', {}, 'PUT')).status).toBe(401);
  expect((await ask('/', {}, 'POST')).status).toBe(401);
  expect((await ask('/api/collections', { authorization: 'Bearer wrong' })).status).toBe(401);
  expect((await ask('/api/collections', { authorization: `Bearer ${TOKEN}` })).status).toBe(200);
});

test('the token is asked for once; the browser keeps a cookie that scripts do not see', async () => {
  const { page, problems } = await openPage(browser, { baseURL: detto.address });
  await page.goto('/?from=a-mail');
  await page.getByRole('heading', { name: 'Sign in' }).waitFor();
  expect(await axeViolations(page)).toEqual([]);
  // By keyboard alone: the field has the cursor.
  await page.keyboard.type('not the token');
  await page.keyboard.press('Enter');
  await page.getByRole('alert').filter({ hasText: 'Wrong token.' }).waitFor();
  await page.keyboard.type(TOKEN);
  await page.keyboard.press('Enter');
  await page.waitForURL('**/?from=a-mail');
  expect(await page.evaluate(() => document.cookie)).toBe('');
  const [cookie] = await page.context().cookies();
  expect(cookie).toMatchObject({ httpOnly: true, sameSite: 'Strict' });
  expect(cookie!.value).not.toContain('skerry');
  await page.reload();
  await page.getByLabel('Address of the site').waitFor();
  // Who has signed in and comes by a link from elsewhere is led on.
  await page.goto('/sign-in?to=%2F%3Fback');
  await page.waitForURL('**/?back');
  expect(problems.filter((p) => !p.startsWith('401'))).toEqual([]);
  await page.context().close();
});
