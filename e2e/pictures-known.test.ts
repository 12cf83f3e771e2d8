import { axeViolations, focused, listening, pressInEditor } from './support/detto';
import { session } from './support/session';

/** What Detto knows of the pictures: seen at the Desk, used in the Galley, settled by a person. */
const {
  page,
  problems,
  collection: id,
  openDesk: desk,
} = await session('demo', { permissions: ['clipboard-read', 'clipboard-write'] });

test('text in a picture is read, outlined, told by a rule, and copied line by line', async () => {
  await desk('winter-sailings.png');
  const facts = page.getByRole('region', { name: 'About the picture' });
  await facts.getByText('Inner Skerry 07:55 14:20 17:45').waitFor();
  await page
    .getByText('19 of the 21 words in the picture are missing from the alt text and the text beside it')
    .waitFor();
  await page.getByText('It contains 36 words of text, and no long description is attached.').waitFor();
  expect(await page.locator('.outline-text').count()).toBe(0);
  await page
    .getByRole('region', { name: 'Picture', exact: true })
    .getByRole('checkbox', { name: 'text' })
    .press('Space');
  expect(await page.locator('.outline-text').count()).toBeGreaterThan(4);
  await facts.getByRole('button', { name: 'Copy its lines' }).press('Enter');
  await facts.getByText('Copied.').waitFor();
  expect((await page.evaluate(() => navigator.clipboard.readText())).split('\n')[0]).toBe('Winter sailings');
  expect(await axeViolations(page)).toEqual([]);
});

test('recognised text goes into the long description in its order, by keyboard alone, and can be taken back', async () => {
  await desk('winter-sailings.png');
  const facts = page.getByRole('region', { name: 'About the picture' });
  await facts.getByRole('button', { name: 'Put it into the long description' }).press('Enter');
  const field = page.getByRole('textbox', { name: 'Long description of this picture' });
  // Only who opens it loads the editor.
  await page.waitForFunction(() => document.activeElement?.getAttribute('role') === 'textbox');
  expect(await focused(page)).toBe('Long description of this picture');
  expect((await field.innerText()).split('\n').slice(0, 2)).toEqual(['Winter sailings', 'Brannoch 07:15 13:40 17:05']);
  // The first line becomes a paragraph of its own, and a heading.
  await pressInEditor(page, 'Control+Home', 'End', 'Delete', 'Enter', 'ArrowUp');
  await page.getByRole('button', { name: 'Heading', exact: true }).press('Enter');
  await page.getByText('no long description is attached').waitFor({ state: 'detached' });
  await page.getByRole('status').getByText('Saved').waitFor();
  await page.reload();
  await listening(page);
  await field.getByRole('heading', { name: 'Winter sailings', level: 2 }).waitFor();
  await page.getByRole('button', { name: 'Copy as HTML' }).press('Enter');
  await page.getByText('Copied.').first().waitFor();
  expect(await page.evaluate(() => navigator.clipboard.readText())).toMatch(
    /^<h2>Winter sailings<\/h2>\n<p>Brannoch 07:15 13:40 17:05<br \/>\nInner Skerry/,
  );
  expect(await axeViolations(page)).toEqual([]);
  await page.keyboard.press('Control+z');
  await page.getByRole('status').filter({ hasText: 'Undone: long description of winter-sailings.png' }).waitFor();
  await page.getByText('no long description is attached').waitFor();
  expect((await field.innerText()).trim()).toBe('');
});

test('a purpose is settled by questions that the evidence has answered already', async () => {
  await desk('winter-sailings.png');
  await page.getByText('Purpose', { exact: true }).click();
  await page.getByText('Find the purpose by four questions').click();
  const beside = page.getByRole('group', { name: /Does the same text stand beside it/ });
  expect(await beside.getByRole('radio', { name: 'No' }).isChecked()).toBe(true);
  await page.getByText('That makes it text.').waitFor();
  // By keyboard alone: to the other answer, and on to what it asks next.
  await beside.getByRole('radio', { name: 'No' }).focus();
  await page.keyboard.press('ArrowRight');
  await page.getByRole('group', { name: /Can a sentence or two say it/ }).waitFor();
  await page.getByRole('radio', { name: 'No, there is more in it' }).check();
  expect(await axeViolations(page)).toEqual([]);
  await page.getByRole('button', { name: 'Set purpose: complex' }).press('Enter');
  await page.getByText('set by an editor').waitFor();
  await page.getByText('It is complex, and no long description is attached.').waitFor();
});

test('look-alikes stand together, and one begins from the words of another', async () => {
  await desk('IMG_2041.jpg');
  const alike = page.getByRole('region', { name: '8 that look alike' });
  await alike.getByText('Word the best 5 with care, and adapt the others from them.').waitFor();
  await alike.getByRole('button', { name: /Start from this wording “Three puffins in a row/ }).press('Enter');
  expect(await page.getByRole('textbox', { name: 'Alt text' }).inputValue()).toMatch(/^Three puffins in a row/);
  await alike.getByRole('link', { name: 'See them in the Galley' }).click();
  await page.getByText('8 of 72 pictures').waitFor();
  await page.getByRole('button', { name: 'Not only those that look alike' }).click();
  await page.getByText('72 of 72 pictures').waitFor();
});

test('what the file says is shown, and a credit is recorded and composed', async () => {
  await desk('kittiwakes.webp');
  const facts = page.getByRole('region', { name: 'About the picture' });
  await facts.getByText('File metadata (4)').press('Enter');
  await facts.getByText('Edda Sinclair, Holm Trust').first().waitFor();
  await page.getByText('Photo: Edda Sinclair, Holm Trust, https://holm-trust.example/rights').click();
  await page.getByRole('textbox', { name: 'Licence' }).fill('https://creativecommons.org/licenses/by/4.0/');
  await page.getByRole('textbox', { name: 'Taken from' }).fill('https://www.holm-trust.example/birds');
  await page.getByRole('button', { name: 'Save credit' }).press('Enter');
  await page.getByText('Credit saved.').waitFor();
  await page.reload();
  // In the line of the fold, and in the history below it.
  await page.getByText('Photo: Edda Sinclair, Holm Trust, holm-trust.example, CC BY 4.0').first().waitFor();
});

test('a heavy picture gives its lighter copy', async () => {
  await desk('hero-ferry.jpg');
  const link = page.getByRole('link', { name: /^Download a copy of \d+ KB$/ });
  const response = await page.request.get((await link.getAttribute('href'))!);
  expect(response.headers()['content-type']).toBe('image/webp');
  expect(response.headers()['content-disposition']).toContain('hero-ferry.webp');
  expect((await response.body()).subarray(8, 12).toString()).toBe('WEBP');
});

test('the Galley comes in the order of work, with its reasons, and by kind', async () => {
  await page.goto(`/c/${id}/galley?sort=first`);
  const first = page.getByRole('grid', { name: 'Galley' }).getByRole('row').first();
  await first.getByText('staff-01.jpg').first().waitFor();
  await first.getByText(/^Link or button without a name, on /).waitFor();
  await page.getByRole('button', { name: /add a filter/ }).click();
  await page.getByRole('option', { name: 'Kind' }).click();
  await page.getByRole('button', { name: /^Kind/ }).click();
  await page.getByRole('option', { name: /^photos/ }).click();
  await page.waitForURL('**kind=photo**');
  await page.getByText(/^\d+ of 72 pictures/).waitFor();
  expect(await axeViolations(page)).toEqual([]);
  await page.goto(`/c/${id}/brief`);
  const todo = page.getByRole('region', { name: 'What to do first' }).getByRole('listitem');
  await page.getByText('Link or button without a name, on one page, main content').first().waitFor();
  expect(await todo.count()).toBe(10);
});

test('stepping on at the Desk keeps to the order, whatever was worded', async () => {
  await page.goto(`/c/${id}/desk`);
  await listening(page);
  await page.getByText(/1 of \d+ in this pile, missing alt text or to check, what to do first$/).waitFor();
  await page.getByRole('textbox', { name: 'Alt text' }).fill('To the page of Isla Marr, skipper');
  await page.getByRole('button', { name: 'Save and next' }).click();
  await page.waitForURL((url) => !url.pathname.endsWith('/desk'));
  await page.getByText(/missing alt text or to check, what to do first$/).waitFor();
  await page.getByText('wave-3.svg').first().waitFor();
});

test('nothing went wrong in the page meanwhile', () => expect(problems).toEqual([]));
