import { listening } from './support/detto';
import { session } from './support/session';

/** The Desk: words are written, kept, heard, moved to their places, taken back. */
const { page, problems, collection, lineOf, openDesk, altText, saved } = await session('demo');

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
  await page.getByText(/: (it looks like a photo, )?it is in running text, no link around it$/).waitFor();
  await page
    .getByRole('region', { name: /^Use this text/ })
    .getByText('IMG_2041.jpg')
    .waitFor();
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
  await page.getByText('written: “Two puffins face each other').waitFor({ state: 'attached' });
});

test('what is not kept yet survives a reload', async () => {
  await open('IMG_2042');
  await altText().fill('A puffin with a beak full of sand eels');
  await page.reload();
  await says('A puffin with a beak full of sand eels');
  // The page that was left has saved it, or this one does.
  for (let i = 0; i < 60 && (await lineOf('IMG_2042')).heard === 'Puffin'; i++) await page.waitForTimeout(250);
  expect((await lineOf('IMG_2042')).heard).toBe('A puffin with a beak full of sand eels');
});

test('words go here, or everywhere', async () => {
  await open('lighthouse');
  const list = page.getByRole('region', { name: /^Use this text/ });
  const places = list.getByRole('checkbox');
  expect(await places.evaluateAll((all: HTMLInputElement[]) => all.map((c) => c.checked))).toEqual([true, false]);
  await altText().fill('The striped Holm light');
  await saved();
  await page.getByText('The Holm light of 1862').first().waitFor();
  await page.getByRole('button', { name: 'Everywhere' }).click();
  await saved();
  await list.getByText('The striped Holm light').nth(1).waitFor();
  await page.getByRole('button', { name: 'Only here' }).click();
  await saved();
  await list.getByText('The Holm light of 1862').waitFor();
});

test('making a picture silent is one act, and is undone by a key', async () => {
  await open('tides');
  await page.getByRole('button', { name: 'Mark decorative' }).first().click();
  await page.getByRole('status').filter({ hasText: 'Marked decorative in 1 place.' }).waitFor();
  expect((await lineOf('tides')).state).toBe('decorative');
  await page.getByText('nothing is heard here').waitFor();
  await page.keyboard.press('Control+z');
  await page.getByRole('status').filter({ hasText: 'Undone: tides.svg marked decorative' }).waitFor();
  await says('Tide chart for Brannoch quay');
  expect((await lineOf('tides')).state).toBe('described');
});

test('a picture that is all its link says cannot be made silent', async () => {
  await open('book-now');
  expect(await page.getByRole('button', { name: 'Mark decorative' }).first().isDisabled()).toBe(true);
  await page.getByText('link, no destination given').waitFor();
});

test('a draft is taken with its evidence, and told from what a person wrote', async () => {
  await open('book-now');
  await page.getByText('link to “Contact and bookings”').waitFor();
  await page.getByRole('button', { name: 'Accept' }).click();
  await saved();
  await page
    .getByText('drafted and accepted (evidence drafter, accepted): “Contact and bookings”')
    .waitFor({ state: 'attached' });
  await altText().press('End');
  await altText().pressSequentially(', by telephone');
  await saved();
  await page
    .getByText(/written \(evidence drafter, edited .*\): “Contact and bookings, by telephone/)
    .waitFor({ state: 'attached' });
});

test('a purpose is settled by a person', async () => {
  await open('passengers');
  await page.getByText('Purpose', { exact: true }).click();
  await page.getByRole('radio', { name: 'Complex' }).click();
  await page.getByText('set by an editor').waitFor();
  expect((await lineOf('passengers')).purpose).toBe('complex');
});

test('a formula in TeX is offered in words, and as MathML', async () => {
  await open('tide-curve');
  await page.getByRole('button', { name: 'Copy as MathML' }).waitFor();
  await page.getByRole('button', { name: /^Use “h of t equals/ }).click();
  await saved();
  expect((await lineOf('tide-curve')).heard).toBe('h of t equals h sub 0 plus a the cosine of 6.28 t over T');
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
  await page.keyboard.press('Alt+ArrowUp');
  await page.waitForURL(first);
  await says('Waves');
});

test('keys that are pressed faster than pictures are drawn each move one, and the way back is the same', async () => {
  await page.goto(`/c/${collection}/desk`);
  await page.waitForURL('**/desk/**');
  await listening(page);
  const whereabouts = page.getByRole('status').filter({ hasText: /^\d+ of \d+, / });
  const start = Number.parseInt((await whereabouts.first().textContent())!, 10);
  const first = page.url();
  for (let i = 0; i < 5; i++) await page.keyboard.press('Alt+ArrowDown');
  await whereabouts.filter({ hasText: new RegExp(`^${start + 5} of \\d+, .+, .+, (no|\\d+) findings?$`) }).waitFor();
  for (let i = 0; i < 5; i++) await page.keyboard.press('Alt+ArrowUp');
  await page.waitForURL(first);
  await whereabouts.filter({ hasText: new RegExp(`^${start} of `) }).waitFor();
});

test('an earlier text is used again from the history', async () => {
  await open('IMG_2042');
  await page.getByText('History', { exact: true }).click();
  await page
    .getByRole('button', { name: /^Use again/ })
    .last()
    .click();
  await says('Puffin');
  await saved();
});

test('findings are announced once typing pauses, once', async () => {
  await open('IMG_2043');
  await altText().fill('Photo of a puffin');
  const heard = page.getByRole('status').filter({ hasText: /^\d+ findings?: .*Needless opening/ });
  await heard.waitFor();
  await altText().press('End');
  await altText().pressSequentially(' on a cliff');
  await altText().fill('A puffin on a cliff top');
  await page.getByRole('status').filter({ hasText: 'No findings.' }).waitFor();
  await saved();
});

test('what is heard is spoken in the language of the page, where the browser can', async () => {
  await page.addInitScript(() => {
    const spoken: string[] = [];
    Object.assign(window, {
      spoken,
      SpeechSynthesisUtterance: class {
        lang = '';
        constructor(readonly text: string) {}
      },
    });
    Object.defineProperty(window, 'speechSynthesis', {
      value: {
        cancel: () => undefined,
        speak: (u: { text: string; lang: string }) => spoken.push(`${u.lang}: ${u.text}`),
      },
    });
  });
  await open('IMG_2041');
  await page.keyboard.press('F8');
  await page.getByRole('button', { name: /^Hear it/ }).click();
  const spoken = await page.evaluate(() => (window as unknown as { spoken: string[] }).spoken);
  expect(spoken).toHaveLength(2);
  expect(spoken[0]).toMatch(/^en(-GB)?: image, Two puffins/);
});

test('keys are listed by F1, and a key can be changed', async () => {
  await open('IMG_2043');
  await page.keyboard.press('F1');
  const dialog = page.getByRole('dialog', { name: 'Keys' });
  await dialog.getByText('save and next, also while you write', { exact: true }).waitFor();
  await dialog.getByRole('button', { name: 'Change the key: next picture, also while you write' }).click();
  await page.keyboard.press('Alt+PageDown');
  await dialog.getByText('Key changed: next picture').waitFor();
  await page.keyboard.press('Escape');
  await dialog.waitFor({ state: 'detached' });
  const before = page.url();
  await page.keyboard.press('Alt+ArrowDown');
  await page.waitForTimeout(300);
  expect(page.url()).toBe(before);
  await page.keyboard.press('Alt+PageDown');
  await page.waitForURL((url) => url.href !== before);
});

test('nothing went wrong in the page meanwhile', () => expect(problems).toEqual([]));
