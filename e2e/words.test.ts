import { createServer, type Server } from 'node:http';
import type { Page } from 'playwright-core';
import { begin, DETTO, focusSomewhere, listening } from './support/detto';
import { session } from './support/session';

/** An editor's words: two windows, changed pages, the focus, and undo wherever the editor is. */
const { page, problems, collection, lineOf, altText, saved } = await session('demo');

const desk = async (file: string) => `/c/${collection}/desk/${(await lineOf(file)).id}`;
/** Waits until something has the focus of that element, name or text; the body, where nobody can go on, is nothing. */
const focused = (wanted: RegExp, on = page) =>
  on.waitForFunction(
    ({ source, flags }) => {
      const at = document.activeElement;
      const described =
        at === document.body ? '' : `${at?.tagName} ${at?.getAttribute('aria-label') ?? at?.textContent?.trim()}`;
      return new RegExp(source, flags).test(described);
    },
    { source: wanted.source, flags: wanted.flags },
  );

const somewhere = () => focusSomewhere(page);

test('two windows on one picture: the later save replaces nothing, and one text is chosen', async () => {
  const other = await page.context().newPage();
  // As a window that was asleep: it does not hear what others save.
  await other.route('**/events', (route) => route.abort());
  await page.goto(await desk('IMG_2042'));
  await other.goto(await desk('IMG_2042'));
  await listening(page);
  await listening(other);
  await altText().fill('Two puffins on a ledge');
  await saved();
  await altText(other).fill('Puffins, bill to bill');
  await other.getByText('Two texts: choose one below').waitFor();
  await other.getByRole('heading', { name: /^Two texts for one place: IMG_2042/ }).waitFor();
  expect((await lineOf('IMG_2042')).heard).toBe('Two puffins on a ledge');
  // Saving and going on stays here until somebody has chosen.
  const before = other.url();
  await altText(other).press('Control+Enter');
  await focused(/Use this text/, other);
  expect(other.url()).toBe(before);
  await page.goto(`/c/${collection}/brief`);
  await page.getByRole('heading', { name: '1 place with two texts: choose one' }).waitFor();
  await other.getByRole('button', { name: /^Use this text ?: Mine/ }).click();
  await other.getByRole('heading', { name: /^Two texts/ }).waitFor({ state: 'detached' });
  await focused(/^TEXTAREA/, other);
  expect((await lineOf('IMG_2042')).heard).toBe('Puffins, bill to bill');
  await other.getByText('written: “Puffins, bill to bill”').waitFor({ state: 'attached' });
  await other.close();
});

test('an open window learns at once what others save, also while something is written there', async () => {
  const other = await page.context().newPage();
  await page.goto(await desk('IMG_2045'));
  await other.goto(await desk('IMG_2045'));
  await listening(page);
  await listening(other);
  await altText().fill('A puffin among thrift');
  await saved();
  await other.waitForFunction(() => document.querySelector('textarea')?.value === 'A puffin among thrift');
  // Held back, so that the other one saves while this one writes.
  await other.route('**/wordings', async (route) => {
    await new Promise((resolve) => setTimeout(resolve, 3_000));
    await route.continue();
  });
  await altText(other).fill('A bird among thrift');
  await altText().fill('A puffin lands among thrift');
  await saved();
  await other.getByText(/^Saved meanwhile by somebody else: .*A puffin lands among thrift/).waitFor();
  await other.getByText('Two texts: choose one below').waitFor();
  await other.getByRole('button', { name: /^Edit both together/ }).click();
  await other.getByRole('textbox', { name: /^Both texts of IMG_2045/ }).fill('A puffin, a bird, lands among thrift');
  await other.keyboard.press('Control+Enter');
  await other.getByText(/^Text chosen for IMG_2045/).waitFor();
  await page.waitForFunction(
    () => document.querySelector('textarea')?.value === 'A puffin, a bird, lands among thrift',
  );
  await other.close();
});

test('what is written while Detto is away is kept in the browser, said in words, and saved when it is back', async () => {
  const away = await page.context().newPage();
  await away.goto(await desk('IMG_2047'));
  await listening(away);
  await away.context().setOffline(true);
  await altText(away).fill('A puffin with its wings out');
  await away.getByText(/^Not saved\. .*your words are kept in this browser\.$/).waitFor();
  // The window is closed before Detto is back; the next one sends what it could not.
  await away.close();
  await page.context().setOffline(false);
  expect((await lineOf('IMG_2047')).heard).not.toBe('A puffin with its wings out');
  await page.goto(`/c/${collection}/brief`);
  const left = await page.evaluate(() => {
    const keys = Object.keys(localStorage).filter((k) => localStorage.getItem(k)!.includes('wings out'));
    // As if it had been left a minute ago.
    for (const key of keys)
      localStorage.setItem(key, JSON.stringify({ ...JSON.parse(localStorage.getItem(key)!), at: Date.now() - 60_000 }));
    return keys.length;
  });
  expect(left).toBe(1);
  await page.reload();
  await page.getByText('1 text from before is saved now.').waitFor();
  expect((await lineOf('IMG_2047')).heard).toBe('A puffin with its wings out');
});

test('two windows on one long description: the later replaces nothing until somebody chooses', async () => {
  const other = await page.context().newPage();
  // As a window that was asleep: it does not hear what others save.
  await other.route('**/events', (route) => route.abort());
  const long = (on: Page) => on.getByRole('textbox', { name: 'Long description of this picture' });
  for (const on of [page, other]) {
    await on.goto(await desk('tides'));
    await listening(on);
    if (!(await long(on).isVisible())) await on.getByText('Long description', { exact: true }).first().click();
  }
  await long(page).fill('High water at seven');
  await saved();
  await long(other).fill('Low water at one');
  const choice = other.getByRole('region', { name: 'Two texts: long description' });
  await choice.getByText('High water at seven').waitFor();
  await choice.getByRole('button', { name: 'Use the text in the field' }).click();
  await saved(other);
  await page.reload();
  await long(page).getByText('Low water at one').waitFor();
  await other.close();
});

test('a page that somebody changed is reported on the Brief, in the Galley and at the head of the Delivery', async () => {
  let alt = 'Quay';
  const site: Server = createServer((request, response) => {
    const isPicture = request.url === '/a.gif';
    response.setHeader('content-type', isPicture ? 'image/gif' : 'text/html');
    response.end(
      isPicture
        ? Buffer.from('R0lGODlhAQABAIAAAP///wAAACwAAAAAAQABAAACAkQBADs=', 'base64')
        : `<!doctype html><html lang=en><title>Harbour</title><p>Text</p><img src="a.gif" width=300 height=200 alt="${alt}">`,
    );
  });
  await new Promise<void>((resolve) => site.listen(Number(process.env['E2E_SLOW_PORT']), '127.0.0.1', resolve));
  try {
    const own = await begin({
      kind: 'site',
      where: `http://127.0.0.1:${process.env['E2E_SLOW_PORT']}/`,
      name: 'Changed',
    });
    const { appearanceId, revision } = await lineOf('a.gif', own);
    const answer = await fetch(`${DETTO}/api/collections/${own}/wordings`, {
      method: 'PUT',
      body: JSON.stringify({ target: { kind: 'places', places: [appearanceId] }, text: 'Ours', since: revision }),
    });
    expect(answer.status).toBe(200);
    alt = 'Theirs';
    await page.goto(`/c/${own}/delivery`);
    // While the page is streamed, what is on its way stands beside it for a moment.
    await page.getByText('0 of 1 change. 1 text on 1 page waits; the reason stands with each page.').first().waitFor();
    await page.getByRole('button', { name: 'Survey again' }).click();
    await page.getByText('Done.').waitFor();
    await page.goto(`/c/${own}/delivery`);
    await page.getByText('0 of 1 change. 1 text waits until you choose between two.').first().waitFor();
    await page.goto(`/c/${own}/galley?state=conflict`);
    await page
      .getByRole('grid')
      .getByRole('heading', { name: /^Two texts for one place/ })
      .waitFor();
    await page.goto(`/c/${own}/brief`);
    const first = page.getByRole('region', { name: /^1 place with two texts/ });
    for (const text of ['First found', '“Quay”', 'On the page now', '“Theirs”', 'Saved in Detto', '“Ours”'])
      await first.getByText(text, { exact: true }).first().waitFor();
    await first.getByRole('button', { name: /Saved in Detto/ }).click();
    await first.waitFor({ state: 'detached' });
    await somewhere();
    await page.goto(`/c/${own}/delivery`);
    await page.getByRole('heading', { name: '1 change on 1 page to deliver.' }).waitFor();
  } finally {
    site.closeAllConnections();
    site.close();
  }
});

test('what is typed at once after saving is for the next picture, whose field has the cursor', async () => {
  await page.goto(`/c/${collection}/galley?q=staff`);
  await page
    .getByRole('link', { name: /staff|undefined|No alt|Nothing/ })
    .first()
    .waitFor();
  await page.goto(`${await desk('IMG_2043')}?q=IMG_204`);
  await listening(page);
  await focused(/^TEXTAREA/);
  const before = page.url();
  await page.keyboard.type('A puffin lands');
  await page.keyboard.press('Control+Enter');
  await page.keyboard.type('XYZ');
  await page.waitForURL((url) => url.href !== before && url.pathname.includes('/desk/'));
  await listening(page);
  await focused(/^TEXTAREA/);
  // The next picture is there at once, its text selected: what is typed replaces that, and nothing of the one before.
  expect(await altText().inputValue()).toBe('XYZ');
  for (let i = 0; i < 50 && (await lineOf('IMG_2043')).heard !== 'A puffin lands'; i++) await page.waitForTimeout(100);
  expect((await lineOf('IMG_2043')).heard).toBe('A puffin lands');
  await altText().fill('Another puffin');
  await saved();
});

test('undo takes back the last act wherever the editor is by then, says which, and leaves what is written there', async () => {
  await page.goto(`${await desk('IMG_2044')}?q=IMG_204`);
  await listening(page);
  const before = (await lineOf('IMG_2044')).heard;
  await page.keyboard.type('A puffin to be undone');
  const url = page.url();
  await page.keyboard.press('Control+Enter');
  await page.waitForURL((now) => now.href !== url);
  await page.waitForFunction(() => document.activeElement?.tagName === 'TEXTAREA');
  await page.keyboard.press('Control+z');
  await page.getByRole('status').filter({ hasText: 'Undone: alt text of IMG_2044.jpg' }).waitFor();
  await page.getByRole('link', { name: 'Show it' }).waitFor();
  expect((await lineOf('IMG_2044')).heard).toBe(before);
  await somewhere();
});

test('the focus never falls to the body: Esc, stepping, setting aside, a note’s act, the Galley, the house style', async () => {
  await page.goto(`${await desk('IMG_2048')}?q=IMG_204`);
  await listening(page);
  await focused(/^TEXTAREA/);
  await page.keyboard.press('Escape');
  await focused(/^H1/);
  const before = page.url();
  await page.keyboard.press('Alt+ArrowUp');
  await page.waitForURL((url) => url.href !== before);
  await focused(/^H1/);
  await page.goBack();
  await page.waitForURL(before);
  await page.waitForFunction(() => document.activeElement !== document.body);

  await page.goto(await desk('day-ticket'));
  await listening(page);
  await page
    .locator('#notes')
    .getByRole('button', { name: /^Ignore here/ })
    .first()
    .click();
  await page.getByLabel('Reason').fill('The series is known by its number');
  await page.getByLabel('Your name').fill('Isla');
  await page.keyboard.press('Enter');
  await page.getByRole('status').filter({ hasText: 'Ignored in' }).waitFor();
  await somewhere();

  await page.goto(`/c/${collection}/galley?state=missing`);
  const lines = page.getByRole('row');
  await lines.first().waitFor();
  await listening(page);
  const tally = page.getByText(/^\d+ of \d+ pictures/);
  const counted = await tally.textContent();
  await page.locator('[data-cell="0-1"]').focus();
  await page.keyboard.press('F2');
  await focused(/^TEXTAREA/);
  await page.keyboard.type('Words that take it out of the view');
  await page.keyboard.press('Enter');
  await page.getByRole('status').filter({ hasText: 'Alt text saved in' }).waitFor();
  await focused(/^DIV /);
  // What is saved leaves the view, and the lines below it move up.
  await tally.and(page.getByText(counted!)).waitFor({ state: 'detached' });
  await page.getByRole('checkbox').first().check();
  await page.getByRole('region', { name: 'Selection' }).getByRole('button', { name: 'Draft …' }).click();
  await page.getByRole('dialog').getByRole('radio', { name: 'replace it' }).check();
  await page.getByRole('dialog').getByRole('button', { name: 'Start', exact: true }).click();
  await page.getByRole('status').filter({ hasText: 'Round started' }).waitFor();
  await somewhere();

  await page.goto(`/c/${collection}/style`);
  await listening(page);
  await page.getByRole('spinbutton').first().fill('77');
  await page.getByRole('button', { name: 'Save house style' }).click();
  await page.getByText('House style saved.').waitFor();
  await somewhere();
});

test('the Shelf, the Brief, the spine and the Galley count the same', async () => {
  const shelf = (await (await fetch(`${DETTO}/api/collections`)).json()) as Record<string, number | string>[];
  const own = shelf.find((c) => c['id'] === collection)!;
  for (const state of ['described', 'decorative', 'missing', 'doubtful'] as const) {
    const lines = await fetch(`${DETTO}/api/collections/${collection}/lines?state=${state}`);
    expect([state, ((await lines.json()) as { total: number }).total]).toEqual([state, own[state]]);
  }
  await page.goto(`/c/${collection}/brief`);
  await page.getByRole('link', { name: /to check$/ }).waitFor();
  const counts = await page
    .locator('main p')
    .filter({ hasText: 'to check' })
    .first()
    .getByRole('link')
    .allTextContents();
  expect(counts.map((c) => Number.parseInt(c, 10))).toEqual([
    own['described'],
    own['decorative'],
    own['missing'],
    own['doubtful'],
  ]);
  await page.getByRole('link', { name: /to check$/ }).click();
  await page.waitForURL('**/galley?state=doubtful');
  await page.getByText(new RegExp(`^${own['doubtful']} of ${own['pictures']} pictures`)).waitFor();
});

test('choosing another kind of picture leaves nothing of the view before in the Galley', async () => {
  await page.goto(`/c/${collection}/galley`);
  await page.getByRole('button', { name: /add a filter/ }).click();
  await page.getByRole('option', { name: 'Kind' }).click();
  await page.getByRole('button', { name: /^Kind/ }).click();
  await page.getByRole('option', { name: /^photos/ }).click();
  await page.waitForURL('**kind=photo**');
  const shown = await fetch(`${DETTO}/api/collections/${collection}/lines?kind=photo`);
  const { total } = (await shown.json()) as { total: number };
  await page.waitForFunction(
    (n) => document.querySelector('[role=grid]')?.getAttribute('aria-rowcount') === String(n),
    total,
  );
});

test('nothing went wrong in the page meanwhile', () => expect(problems).toEqual([]));
