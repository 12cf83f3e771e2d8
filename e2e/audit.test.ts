import { readFileSync } from 'node:fs';
import { RULES } from '../src/core/rules';
import { DETTO, focused, listening } from './support/detto';
import { session } from './support/session';

/** The audit where it is met: rules with their pages, findings that are set aside, the house style, the charts of the Brief. */
const { page, problems, collection, lineOf, openDesk, announced } = await session('demo');

const rulesOn = async (file: string) => (await lineOf(file)).notes.map((n) => n.rule).sort();

test('every rule has a page with its sources, its examples, and what it found here', async () => {
  await page.goto(`/c/${collection}/rules`);
  for (const group of ['Presence', 'Purpose', 'Words', 'Consistency', 'Files and delivery'])
    await page.getByRole('heading', { name: group, exact: true }).waitFor();
  const links = page.getByRole('region').getByRole('link');
  expect(await links.count()).toBe(RULES.length);
  const hrefs = await links.evaluateAll((all) => all.map((a) => a.getAttribute('href')!));
  for (const href of hrefs) {
    const answer = await fetch(`${DETTO}${href}`);
    const html = await answer.text();
    expect([href, answer.status, /Sources/.test(html), /Fails/.test(html)]).toEqual([href, 200, true, true]);
  }
  await page.getByRole('link', { name: 'Keyword stuffing' }).click();
  await page.waitForURL('**/rules/stuffed');
  await page.getByText('found on 1 picture here').waitFor();
  await page.getByText('Score of keywords').waitFor();
  await page.getByRole('link', { name: 'Show them in the Galley' }).click();
  await page.getByText('1 of 72 pictures').waitFor();
});

test('a finding is set aside with a reason, counts no more, and comes back by undoing', async () => {
  await page.goto(`/c/${collection}/galley?rule=word-list`);
  await listening(page);
  const line = page.getByRole('row').filter({ hasText: 'guest-01.jpg' });
  await line.getByRole('button', { name: 'Ignore here Tags instead of a description' }).click();
  await line.getByLabel('Reason').fill('the guest wanted it so');
  await line.getByLabel('Your name').fill('Ann');
  await line.getByRole('button', { name: 'Ignore', exact: true }).click();
  await announced('Ignored in 1 place.');
  await page.getByText('0 of 72 pictures').waitFor();
  expect(await rulesOn('guest-01')).not.toContain('word-list');
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByText('1 of 72 pictures').waitFor();
});

test('what was set aside stands at the Desk with its reason, until the words change', async () => {
  await openDesk('guest-01');
  await page.getByRole('button', { name: 'Ignore here Tags instead of a description' }).click();
  expect(await page.getByLabel('Your name').inputValue()).toBe('Ann');
  await page.getByLabel('Reason').fill('a poem');
  await page.keyboard.press('Enter');
  await page.getByText('Tags instead of a description: “a poem”, Ann, today').waitFor();
  const words = page.getByRole('textbox', { name: 'Alt text' });
  await words.fill('boat sea sky sunset gull');
  await page.getByText('5 separate words, not a description').waitFor();
  await words.fill('boat sea sky sunset');
  await page.getByRole('button', { name: 'Show again' }).click();
  await page.getByText('4 separate words, not a description').waitFor();
});

test('the Desk audits as one writes: spelling, language and keywords, with the dictionaries of the page', async () => {
  await openDesk('guest-05');
  const notes = page.locator('#notes');
  await notes.getByRole('button', { name: 'Write “railing”' }).click();
  await notes.getByText('“raling” is in no').waitFor({ state: 'detached' });
  const words = page.getByRole('textbox', { name: 'Alt text' });
  await words.fill('Eine Möwe sitzt auf der Reling des oberen Decks');
  await notes.getByText('reads as German; the page declares English here.').waitFor();
  await words.fill('cheap gull tickets, gull tickets online, best gull tickets');
  await notes.getByText('Reads as keywords, score').waitFor();
  await notes.getByText(/^Reads as keywords: 0\.\d+ of 1$/).click();
  await notes.getByText(/^sales words, adds 0\.\d+: cheap, online, best$/).waitFor();
  await words.fill('A gull on the wheelhoose');
  await notes.getByRole('button', { name: 'Add “wheelhoose” to the word list' }).click();
  await announced('is on the word list now.');
  await notes.getByText('wheelhoose” is in no').waitFor({ state: 'detached' });
});

test('a setting of the house style shows what it does before it is kept, and then does it', async () => {
  await page.goto(`/c/${collection}/style`);
  await listening(page);
  await page.getByLabel('Characters over the limit').fill('40');
  await page.getByText(/^\d+ more texts\.$/).waitFor();
  await announced(/^\d+ more would be found\.$/);
  expect(await rulesOn('guest-04')).not.toContain('overlong');
  await page.getByRole('button', { name: 'Discard changes' }).click();
  expect(await page.getByLabel('Characters over the limit').inputValue()).toBe('100');
  await page.getByLabel('Characters over the limit').fill('40');
  await page.getByRole('combobox', { name: /^Heavy file/ }).click();
  await page.getByRole('option', { name: 'is off' }).click();
  await announced(/more, \d+ fewer would be found\.$/);
  await page.getByRole('button', { name: 'Save house style' }).click();
  await announced('House style saved.');
  await page.getByRole('heading', { name: /: 3 rules have their own settings\.$/ }).waitFor();
  for (let i = 0; i < 100 && !(await rulesOn('guest-04')).includes('overlong'); i++)
    await new Promise((resolve) => setTimeout(resolve, 100));
  expect(await rulesOn('guest-04')).toContain('overlong');
  expect(await rulesOn('hero-ferry')).not.toContain('heavy-file');
});

test('it is taken as a file, and read from one; a file that is none says why', async () => {
  await page.goto(`/c/${collection}/style`);
  await listening(page);
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Download as a file (JSON)' }).click(),
  ]);
  const taken = JSON.parse(readFileSync(await download.path(), 'utf8')) as { rules: Record<string, unknown> };
  expect(Object.keys(taken.rules)).toEqual(['overlong', 'misspelt', 'heavy-file']);
  const read = (text: string) =>
    page
      .getByLabel('Upload a file')
      .setInputFiles({ name: 's.json', mimeType: 'application/json', buffer: Buffer.from(text) });
  await read('{"format":"detto-house-style","version":1,"rules":{"overlong":{"parameters":{"limit":3}}}}');
  await page.getByRole('alert').filter({ hasText: 'The rule “overlong”: limit' }).waitFor();
  await read(readFileSync('demo/house-style.json', 'utf8'));
  await page.waitForFunction(() => [...document.querySelectorAll('textarea')].some((t) => t.value === 'lovely'));
  expect(await page.getByLabel('Characters over the limit').inputValue()).toBe('100');
  await page.getByRole('button', { name: 'Save house style' }).click();
  await announced('House style saved.');
  const answer = await fetch(`${DETTO}/api/collections/${collection}/house-style`);
  expect(await answer.json()).toEqual(JSON.parse(readFileSync('demo/house-style.json', 'utf8')));
});

test('the charts of the Brief say in words and in a table what they draw', async () => {
  await page.goto(`/c/${collection}/brief`);
  const lengths = page.getByRole('region', { name: 'How long the texts are' });
  await lengths.getByRole('img', { name: /^Half of the texts have between \d+ and \d+ characters;/ }).waitFor();
  await lengths.getByText('As a table').click();
  expect(await lengths.getByRole('row').count()).toBe(17);
  const sections = page.getByRole('region', { name: 'By section' });
  await sections.getByRole('img', { name: /^Most work is in \S+: \d+ fail, \d+ to check\.$/ }).waitFor();
  await sections.getByText('As a table').click();
  expect(await sections.getByRole('columnheader').allTextContents()).toEqual(['Section', 'Fails', 'Check', 'Improve']);
});

test('by keyboard alone: a limit is changed, looked at and kept', async () => {
  await page.goto(`/c/${collection}/style`);
  await listening(page);
  const tabTo = async (wanted: RegExp) => {
    for (let i = 0; i < 120; i++) {
      await page.keyboard.press('Tab');
      if (wanted.test(await focused(page))) return;
    }
    throw new Error(`${wanted} was not reached by Tab`);
  };
  await tabTo(/^Characters over the limit/);
  await page.keyboard.press('ControlOrMeta+a');
  await page.keyboard.type('55');
  await page.getByText(/^\d+ more texts?\.$/).waitFor();
  await tabTo(/^Save house style/);
  await page.keyboard.press('Enter');
  await announced('House style saved.');
});

test('nothing went wrong in the page meanwhile', () => expect(problems).toEqual([]));
