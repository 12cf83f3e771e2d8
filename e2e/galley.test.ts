import { readFileSync } from 'node:fs';
import { axeViolations, listening } from './support/detto';
import { session } from './support/session';

/** The Galley: what it shows, and the acts that fix a line where it stands. */
const { page, problems, collection, announced } = await session('demo');

const galley = async (query = '') => {
  await page.goto(`/c/${collection}/galley${query}`);
  await listening(page);
};
const items = () => page.getByRole('grid', { name: 'Galley' }).getByRole('row');
const line = (name: string) => items().filter({ has: page.getByText(name, { exact: true }) });
const tally = (text: string | RegExp) => page.getByText(text).waitFor();

test('its sentence chooses what is shown, and the address keeps it', async () => {
  await galley();
  await tally('72 of 72 pictures, in 120 appearances on 19 pages');
  await page.getByRole('button', { name: /^State/ }).click();
  await page.getByRole('option', { name: /^missing alt text ?\d/ }).click();
  await tally('12 of 72 pictures');
  expect(page.url()).toContain('state=missing');
  await page.getByRole('button', { name: /^Finding/ }).click();
  await page.getByRole('combobox', { name: 'Finding' }).fill('missing');
  await page
    .getByRole('option', { name: /missing/i })
    .first()
    .waitFor();
  await page.keyboard.press('Enter');
  await tally(/^[1-9] of 72 pictures/);
  await page.goBack();
  await tally('12 of 72 pictures');
  await page.getByRole('searchbox').fill('no such thing');
  await page.getByRole('link', { name: 'Show all pictures' }).click();
  await tally('72 of 72 pictures');
  await page.reload();
  await tally('72 of 72 pictures');
});

test('it is sorted by weight, and searched by words and file names', async () => {
  await galley('?sort=weight');
  expect(await items().first().textContent()).toContain('hero-ferry.jpg');
  await page.getByRole('searchbox').fill('thrift');
  await tally('1 of 72 pictures');
  await line('IMG_2045.jpg').waitFor();
});

test('a fix applies in every place that the note is about, and is undone', async () => {
  await galley('?rule=decoration-with-text');
  const wave = line('wave-3.svg');
  await wave.getByText('(In 4 places.)').waitFor();
  await wave.getByRole('button', { name: 'Mark decorative' }).click();
  await announced('Marked decorative in 4 places.');
  await wave.waitFor({ state: 'detached' });
  await page.getByRole('button', { name: 'Undo' }).click();
  await wave.waitFor();
});

test('silence passes over a picture that names its link', async () => {
  await galley('?q=staff-02');
  const noor = line('staff-02.jpg');
  await noor.getByRole('checkbox').check();
  await page.getByRole('region', { name: 'Selection' }).getByRole('button', { name: 'Mark decorative' }).click();
  const dialog = page.getByRole('dialog', { name: 'Mark decorative' });
  await dialog.getByText('1 picture would be decorative in 1 place.').waitFor();
  await dialog.getByText(/^Left out in \d places?: the picture is the only name of a link or button\.$/).waitFor();
  await dialog.getByRole('button', { name: 'Mark decorative' }).click();
  await announced('Marked decorative in 1 place.');
  await page.keyboard.press('Control+z');
  await announced('Undone: many pictures marked decorative');
});

test('a draft is marked until it is taken', async () => {
  await galley('?q=ferry-night');
  await line('ferry-night.webp').getByRole('button', { name: 'Draft alt text' }).click();
  await announced('nothing is known about 1');
  // What a look-alike says is a beginning, and is not accepted before it is filled.
  await galley('?q=IMG_2046');
  const puffins = line('IMG_2046.jpg');
  await puffins.getByRole('button', { name: 'Draft alt text' }).first().click();
  await puffins.getByText('‹how many?› puffins').waitFor();
  await puffins.getByRole('button', { name: 'Accept' }).click();
  await announced('The draft still asks something');
  await puffins.getByRole('button', { name: 'Reject' }).click();
  await galley('?q=search');
  const search = line('search.svg');
  await search.getByRole('button', { name: 'Draft alt text' }).first().click();
  await search.getByText('Draft', { exact: true }).waitFor();
  await search.getByText('“Search”').first().waitFor();
  await search.getByRole('button', { name: 'Accept' }).click();
  await search.getByText('Has alt text', { exact: true }).waitFor();
  await search.getByText('waits for delivery').waitFor();
});

test('words are edited in the line', async () => {
  await galley('?q=IMG_2048');
  const bird = line('IMG_2048.jpg');
  await bird.locator('[data-cell]').nth(1).focus();
  await page.keyboard.press('F2');
  await page.getByRole('textbox', { name: /Alt text for IMG_2048/ }).fill('A puffin looks left among thrift');
  await page.keyboard.press('Enter');
  await bird.getByText('A puffin looks left among thrift').waitFor();
  expect(await bird.getByText('Fails').count()).toBe(0);
});

/** The cell that has the focus: line and column, from 0. */
const cell = (at: string) =>
  page.waitForFunction((wanted) => (document.activeElement as HTMLElement | null)?.dataset['cell'] === wanted, at);

test('the grid is worked by keyboard: ARIA Authoring Practices, Grid Pattern, Keyboard Interaction', async () => {
  await galley();
  await items().nth(3).waitFor();
  await page.locator('[data-cell="0-1"]').focus();
  for (const [key, at] of [
    ['ArrowDown', '1-1'],
    ['ArrowDown', '2-1'],
    ['ArrowUp', '1-1'],
    ['ArrowRight', '1-2'],
    ['ArrowRight', '1-2'],
    ['ArrowLeft', '1-1'],
    ['Home', '1-0'],
    ['End', '1-2'],
    ['Control+End', '71-2'],
    ['Control+Home', '0-0'],
  ] as const) {
    await page.keyboard.press(key);
    await cell(at);
  }
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Space');
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Shift+ArrowDown');
  await cell('2-1');
  const selection = page.getByRole('region', { name: 'Selection' });
  await selection.getByText('3 lines selected').waitFor();
  expect(await page.locator('[role=row][aria-selected=true]').count()).toBe(3);
  await page.keyboard.press('Control+a');
  await selection.getByText('72 lines selected').waitFor();
  await page.keyboard.press('Space');
  await selection.getByText('71 lines selected').waitFor();
  await selection.getByRole('button', { name: 'Clear selection' }).click();
  // Into the controls of a cell and back; the Tab key leaves the grid by those of its line only.
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Enter');
  await page.waitForFunction(() => /^(?:A|BUTTON|SUMMARY)$/.test(document.activeElement?.tagName ?? ''));
  await page.keyboard.press('Escape');
  await cell('2-2');
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('Enter');
  await page.waitForURL('**/desk/**');
  await page.goBack();
  await items().nth(3).waitFor();
  expect(await page.locator('[data-current=true]').getAttribute('aria-rowindex')).toBe('3');
});

test('texts are found and replaced in one act, each change shown first', async () => {
  await galley();
  await page.getByRole('button', { name: 'Find and replace' }).click();
  const dialog = page.getByRole('dialog', { name: /^Find and replace/ });
  await page.keyboard.type('quay');
  await dialog.getByLabel('Replace with').fill('pier');
  await dialog.getByText(/^\d+ different texts, \d+ places\.$/).waitFor();
  await dialog.getByRole('checkbox', { name: /^Change “Image of the quay/ }).uncheck();
  await dialog.getByRole('button', { name: /^Replace in \d+ places?$/ }).click();
  await announced(/^Texts changed in \d+ places?\./);
  await page.getByRole('searchbox').fill('pier');
  await page.getByText(/^[1-9]\d* of 72 pictures/).waitFor();
  await page.keyboard.press('Control+z');
  await page.getByRole('button', { name: 'Undo' }).click();
  await announced('Undone: find and replace');
});

test('a view is taken away as a table, and the table comes back with its new texts', async () => {
  await galley('?state=missing');
  await page.getByRole('button', { name: /Lists$/ }).click();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page
      .getByRole('option', { name: /a row for each appearance/ })
      .last()
      .click(),
  ]);
  const rows = JSON.parse(readFileSync(await download.path(), 'utf8')) as Record<string, unknown>[];
  const seal = rows.find((r) => String(r['picture']).includes('seal') && r['state'] === 'Missing')!;
  seal['newAlt'] = 'A seal on a rock';
  await page.getByRole('button', { name: /Lists$/ }).click();
  await page.getByRole('option', { name: /Import a list/ }).click();
  const dialog = page.getByRole('dialog', { name: 'Import a list' });
  await dialog
    .getByLabel(/^List/)
    .setInputFiles({ name: 'list.json', mimeType: 'application/json', buffer: Buffer.from(JSON.stringify(rows)) });
  await dialog.getByText('A seal on a rock').waitFor();
  expect(await axeViolations(page)).toEqual([]);
  await dialog.getByRole('button', { name: 'Save 1 change' }).click();
  await announced('The list is saved: 1 place changed.');
  await page.getByRole('button', { name: 'Undo' }).click();
  await announced('Undone: list imported');
});

test('on paper every line stands, also those that are not in sight', async () => {
  await galley('?sort=weight');
  await page.addInitScript(() => {
    window.print = () => void document.body.setAttribute('data-printed', '');
  });
  await page.goto(`/c/${collection}/galley/print?sort=weight`);
  await page.locator('[data-printed]').waitFor({ state: 'attached' });
  expect(await page.locator('.printed-line').count()).toBe(72);
  expect(await axeViolations(page)).toEqual([]);
  await page.getByRole('link', { name: 'Back to the Galley' }).click();
  await page.waitForURL('**/galley?sort=weight');
});

test('every rule is documented where it is found', async () => {
  await galley('?rule=title-only');
  await page.getByRole('link', { name: /Why/ }).first().click();
  await page.getByRole('heading', { name: 'Title instead of alt text' }).waitFor();
  await page.getByText('<img src="boat.jpg" title="The ferry at the quay">').waitFor();
  await page.getByRole('link', { name: 'HTML Living Standard, 4.8.4.4' }).waitFor();
});

test('nothing went wrong in the page meanwhile', () => expect(problems).toEqual([]));
