import { listening } from './support/detto';
import { session } from './support/session';

/** The Desk: words are written, kept, heard, moved to their places, taken back. */
const { page, problems, collection, lineOf, openDesk, altText, saved } = await session('Desk test');

async function open(file: string, query = ''): Promise<void> {
  await openDesk(file, query);
  // Who opens a picture comes to write.
  await page.waitForFunction(() => document.activeElement?.tagName === 'TEXTAREA');
}

const says = (text: string) =>
  page.waitForFunction((wanted) => document.querySelector('textarea')?.value === wanted, text);

test('it shows the picture, the passage around it, its places and the evidence for its purpose', async () => {
  await open('IMG_2041');
  expect(
    await page.getByRole('img', { name: 'View full size' }).evaluate((img: HTMLImageElement) => img.naturalWidth),
  ).toBe(960);
  await page.getByText('Bird reserve › A day on the Holm').waitFor();
  await page.getByText('you can watch them come and go all morning.').waitFor();
  await page.getByText(/^Proposed: (it looks like a photo, )?it stands in running text, no link around it\./).waitFor();
  await page.getByRole('list', { name: 'Where this text goes' }).getByText('IMG_2041.jpg').waitFor();
});

test('findings follow the text as it is written, and what is written is kept', async () => {
  await open('IMG_2041');
  await altText().fill('Photo of two puffins');
  await page.locator('#notes').getByText('“Photo of” is not needed').waitFor();
  await altText().fill('Two puffins face each other on a grassy cliff top');
  await page.locator('#notes').getByText('is not needed').waitFor({ state: 'detached' });
  await page.getByText('49 characters').waitFor();
  await saved();
  await page.reload();
  expect(await altText().inputValue()).toBe('Two puffins face each other on a grassy cliff top');
  await page.getByText('written: “Two puffins face each other').waitFor();
});

test('what is not kept yet survives a reload', async () => {
  await open('IMG_2042');
  await altText().fill('A puffin with a beak full of sand eels');
  await page.reload();
  await says('A puffin with a beak full of sand eels');
  await saved();
  expect((await lineOf('IMG_2042')).heard).toBe('A puffin with a beak full of sand eels');
});

test('words go here, or everywhere', async () => {
  await open('lighthouse');
  const places = page.getByRole('list', { name: 'Where this text goes' }).getByRole('checkbox');
  expect(await places.evaluateAll((all: HTMLInputElement[]) => all.map((c) => c.checked))).toEqual([true, false]);
  await altText().fill('The striped Holm light');
  await saved();
  await page.getByText('The Holm light of 1862').first().waitFor();
  await page.getByRole('button', { name: 'Everywhere' }).click();
  await saved();
  await page.getByRole('list', { name: 'Where this text goes' }).getByText('The striped Holm light').nth(1).waitFor();
  await page.getByRole('button', { name: 'Here only' }).click();
  await saved();
  await page.getByRole('list', { name: 'Where this text goes' }).getByText('The Holm light of 1862').waitFor();
});

test('making a picture silent is one act, and is undone by a key', async () => {
  await open('tides');
  await page.getByRole('button', { name: 'Mark decorative' }).first().click();
  await page.getByRole('status').filter({ hasText: 'Marked decorative in 1 place.' }).waitFor();
  expect((await lineOf('tides')).state).toBe('decorative');
  await page.getByText('nothing is heard here').waitFor();
  await page.keyboard.press('u');
  await page.getByRole('status').filter({ hasText: 'Undone: Marked decorative in 1 place.' }).waitFor();
  await says('Tide chart for Brannoch quay');
  expect((await lineOf('tides')).state).toBe('described');
});

test('a picture that is all its link says cannot be made silent', async () => {
  await open('book-now');
  expect(await page.getByRole('button', { name: 'Mark decorative' }).first().isDisabled()).toBe(true);
  await page.getByText('link, and not where to').waitFor();
});

test('a draft is taken with its evidence, and told from what a person wrote', async () => {
  await open('book-now');
  await page.getByText('link to “Contact and bookings”').waitFor();
  await page.getByRole('button', { name: 'Accept' }).click();
  await saved();
  await page.getByText('drafted and accepted: “Contact and bookings”').waitFor();
  await altText().press('End');
  await altText().pressSequentially(', by telephone');
  await saved();
  await page.getByText(/written: “Contact and bookings, by telephone/).waitFor();
});

test('a purpose is settled by a person', async () => {
  await open('passengers');
  await page.getByRole('radio', { name: 'Complex' }).click();
  await page.getByText('Set by an editor.').waitFor();
  expect((await lineOf('passengers')).purpose).toBe('complex');
});

test('the whole queue is worked through without a mouse', async () => {
  await page.goto(`/c/${collection}/desk`);
  await page.waitForURL('**/desk/**');
  const first = page.url();
  await listening(page);
  await page.waitForFunction(() => document.activeElement?.tagName === 'TEXTAREA');
  await page.keyboard.type('Waves');
  await page.keyboard.press('Control+Enter');
  await page.waitForURL((url) => url.href !== first && url.pathname.includes('/desk/'));
  await listening(page);
  await page.waitForFunction(() => document.activeElement?.tagName === 'TEXTAREA');
  await page.keyboard.press('Escape');
  await page.keyboard.press('k');
  await page.waitForURL(first);
  await says('Waves');
});

test('an act is undone from the history', async () => {
  await open('IMG_2042');
  await page.getByRole('button', { name: 'Undo this' }).click();
  await page.getByText('written, undone since').waitFor();
  await says('Puffin');
});

test('keys are listed, and single keys can be switched off', async () => {
  await open('IMG_2043');
  await page.keyboard.press('Escape');
  await page.keyboard.press('?');
  const dialog = page.getByRole('dialog', { name: 'Keys' });
  await dialog.getByText('save and next, also while you write').waitFor();
  await dialog.getByRole('checkbox', { name: 'Single keys are on' }).uncheck();
  await page.keyboard.press('Escape');
  await dialog.waitFor({ state: 'detached' });
  const before = page.url();
  await page.keyboard.press('j');
  await page.waitForTimeout(400);
  expect(page.url()).toBe(before);
});

test('nothing went wrong in the page meanwhile', () => expect(problems).toEqual([]));
