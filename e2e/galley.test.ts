import { listening } from './support/detto';
import { session } from './support/session';

/** The Galley: what it shows, and the acts that fix a line where it stands. */
const { page, problems, collection, announced } = await session('Galley test');

const galley = async (query = '') => {
  await page.goto(`/c/${collection}/galley${query}`);
  await listening(page);
};
const items = () => page.getByRole('list', { name: 'Galley' }).getByRole('listitem');
const line = (name: string) => items().filter({ has: page.getByText(name, { exact: true }) });
const tally = (text: string | RegExp) => page.getByText(text).waitFor();

test('its sentence chooses what is shown, and the address keeps it', async () => {
  await galley();
  await tally('71 of 71 pictures, in 119 appearances on 19 pages');
  await page.getByRole('combobox', { name: /^State/ }).click();
  await page.getByRole('option', { name: /^missing alt text \d/ }).click();
  await tally('12 of 71 pictures');
  expect(page.url()).toContain('state=missing');
  await page.getByRole('combobox', { name: /^Finding/ }).click();
  await page.getByRole('option', { name: /“Broken image”/ }).click();
  await tally('0 of 71 pictures');
  await page.getByRole('link', { name: 'Show all pictures' }).click();
  await tally('71 of 71 pictures');
  await page.reload();
  await tally('71 of 71 pictures');
});

test('it is sorted by weight, and searched by words and file names', async () => {
  await galley('?sort=weight');
  expect(await items().first().textContent()).toContain('hero-ferry.jpg');
  await page.getByRole('searchbox').fill('thrift');
  await tally('1 of 71 pictures');
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
  await page.getByRole('button', { name: 'Mark them decorative' }).click();
  await announced('Marked decorative in 1 place.');
  await page.keyboard.press('u');
  await announced('Undone: ');
});

test('a draft is marked until it is taken', async () => {
  await galley('?q=IMG_2046');
  const puffins = line('IMG_2046.jpg');
  await puffins.getByRole('button', { name: 'Draft alt text' }).first().click();
  await announced('nothing is known about 1');
  await galley('?q=ferry-night');
  const night = line('ferry-night.webp');
  await night.getByRole('button', { name: 'Draft alt text' }).click();
  await night.getByText('Draft', { exact: true }).waitFor();
  await night.getByText('Ferry night, The late boat').waitFor();
  await night.getByRole('button', { name: 'Accept' }).click();
  await night.getByText('Has alt text', { exact: true }).waitFor();
  await night.getByText('waits for delivery').waitFor();
});

test('words are edited in the line', async () => {
  await galley('?q=IMG_2048');
  const bird = line('IMG_2048.jpg');
  await bird.getByRole('link', { name: /undefined/ }).focus();
  await page.keyboard.press('e');
  await page.getByRole('textbox', { name: /Alt text for IMG_2048/ }).fill('A puffin looks left among thrift');
  await page.keyboard.press('Enter');
  await bird.getByText('A puffin looks left among thrift').waitFor();
  expect(await bird.getByText('Fails').count()).toBe(0);
});

test('keys step through the lines and open the Desk', async () => {
  await galley();
  await items().first().waitFor();
  await page.keyboard.press('j');
  await page.keyboard.press('j');
  await page.locator('[data-line="2"] .words:focus').waitFor();
  await page.keyboard.press('k');
  await page.locator('[data-line="1"] .words:focus').waitFor();
  await page.keyboard.press('Enter');
  await page.waitForURL('**/desk/**');
});

test('every rule is documented where it is found', async () => {
  await galley('?rule=title-only');
  await page.getByRole('link', { name: /Why/ }).first().click();
  await page.getByRole('heading', { name: 'Title instead of alt text' }).waitFor();
  await page.getByText('<img src="boat.jpg" title="The ferry at the quay">').waitFor();
  await page.getByRole('link', { name: 'HTML Living Standard, 4.8.4.4' }).waitFor();
});

test('nothing went wrong in the page meanwhile', () => expect(problems).toEqual([]));
