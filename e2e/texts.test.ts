import { readFileSync } from 'node:fs';
import type { Page } from 'playwright-core';
import { unzip } from '../src/server/testing/unzip';
import { axeViolations, focused, listening, pressInEditor } from './support/detto';
import { session } from './support/session';

/** Title, caption, long description, file name and credit line: written at the Desk, delivered, and there for listeners. */
const { page, problems, collection, openDesk, saved, announced } = await session('demo');

/** Opens a part of the Desk by its name, by keyboard. */
async function open(title: string): Promise<void> {
  const summary = page.locator('details.fold > summary').filter({ has: page.getByText(title, { exact: true }) });
  // The Desk puts the focus into the alt text when it is ready, which may be between two keys.
  while (!(await summary.evaluate((s) => (s.parentElement as HTMLDetailsElement).open))) await summary.press('Enter');
}

async function download(name: string): Promise<Buffer> {
  await page.goto(`/c/${collection}/delivery`);
  const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name }).click()]);
  return readFileSync(await file.path());
}

interface AXNode {
  role?: { value: string };
  name?: { value: string };
  description?: { value: string };
  properties?: { name: string; value: { relatedNodes?: { idref?: string }[] } }[];
}

/** The image of a page as Chromium's accessibility tree has it. */
async function imageIn(html: string, name: string): Promise<AXNode> {
  const other: Page = await page.context().newPage();
  await other.setContent(html);
  const tree = await page.context().newCDPSession(other);
  const { nodes } = (await tree.send('Accessibility.getFullAXTree')) as unknown as { nodes: AXNode[] };
  await other.close();
  return nodes.find((n) => n.role?.value === 'image' && n.name?.value === name)!;
}

test('a long description with a heading, a list, a table and a link is written by keyboard alone', async () => {
  await openDesk('tides');
  await page.getByText('It is complex, and no long description is attached.').waitFor();
  await open('Long description');
  const field = page.getByRole('textbox', { name: 'Long description of this picture' });
  await field.waitFor();
  // One stop for all tools, arrows between them (ARIA Authoring Practices, toolbar pattern).
  await page.keyboard.press('Tab');
  expect(await focused(page)).toBe('Begin with the text in the picture');
  await page.keyboard.press('Tab');
  expect(await focused(page)).toBe('Heading');
  await page.keyboard.press('ArrowRight');
  expect(await focused(page)).toBe('Subheading');
  await page.keyboard.press('Home');
  await page.keyboard.press('Enter');
  await page.keyboard.type('Tides in June');
  await page.keyboard.press('Enter');
  await page.keyboard.type('- ');
  await page.keyboard.type('low at one');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Shift+Tab');
  await page.getByRole('button', { name: 'Table', exact: true }).press('Enter');
  for (const cell of ['Day', 'High', '1 June', '7:10']) {
    await page.keyboard.type(cell);
    await page.keyboard.press('Tab');
  }
  await pressInEditor(page, 'ArrowDown', 'ArrowDown');
  await page.getByRole('button', { name: 'Link', exact: true }).press('Enter');
  await page.keyboard.type('javascript:alert(1)');
  await page.getByText('A link may lead to a web address').waitFor();
  expect(await page.getByRole('button', { name: 'Set link' }).isDisabled()).toBe(true);
  await page.keyboard.press('Control+a');
  await page.keyboard.type('https://tides.example/june');
  await page.keyboard.press('Enter');
  await field.getByRole('heading', { name: 'Tides in June' }).waitFor();
  await field.getByRole('listitem').getByText('low at one').waitFor();
  await field.getByRole('columnheader', { name: 'High' }).waitFor();
  await field.getByRole('link', { name: 'https://tides.example/june' }).waitFor();
  await saved();
  await page.getByText('no long description is attached').waitFor({ state: 'detached' });
  expect(await axeViolations(page)).toEqual([]);
  await page.keyboard.press('Escape');
  expect(await page.evaluate(() => document.activeElement?.tagName)).toBe('SUMMARY');
  await page.reload();
  await listening(page);
  await field.getByRole('cell', { name: '7:10' }).waitFor();
});

test('where it stands is chosen in one place, undone, and chosen again', async () => {
  await page.getByRole('radio', { name: /^Below the picture/ }).check();
  await announced('The long description will stand below the picture.');
  await page.keyboard.press('Control+z');
  await announced('Undone: place of the long description of tides.svg');
  await page.waitForFunction(
    () => document.querySelectorAll<HTMLInputElement>('fieldset input[type=radio]')[1]?.checked,
  );
});

test('delivered, Chromium gives the picture a description to go to, and the page has all of it', async () => {
  const files = await unzip(await download('Download changed files (ZIP)'));
  const html = files.get('tides.html')!.toString();
  const image = await imageIn(html, 'Tide chart for Brannoch quay');
  const [id] = /description-[0-9a-f]{8}/.exec(html)!;
  expect(image.properties?.find((p) => p.name === 'details')?.value.relatedNodes?.map((n) => n.idref)).toEqual([id]);
  const read = await page.evaluate((source) => {
    const block = new DOMParser().parseFromString(source, 'text/html').querySelector('details.long-description')!;
    return [
      block.querySelector('summary')!.textContent,
      ...[...block.querySelectorAll('h2, h3, li, th, td, a')].map((e) => `${e.tagName} ${e.textContent}`),
    ];
  }, html);
  expect(read).toEqual([
    'Long description: Tide chart for Brannoch quay',
    ...['H2 Tides in June', 'LI low at one', 'TH Day', 'TH High', 'TD 1 June', 'TD 7:10'],
    'A https://tides.example/june',
  ]);
});

test('tied by aria-describedby, all of it is the description that Chromium computes', async () => {
  await openDesk('tides');
  await page.getByRole('radio', { name: /^Below the picture/ }).check();
  await announced('The long description will stand below the picture.');
  await page.getByRole('combobox', { name: 'Tied to the picture by' }).selectOption('aria-describedby');
  await page.getByText('Screen readers say all of it after the alt text').waitFor();
  const files = await unzip(await download('Download changed files (ZIP)'));
  const image = await imageIn(files.get('tides.html')!.toString(), 'Tide chart for Brannoch quay');
  expect(image.description?.value.replace(/\s+/g, ' ')).toContain('Tides in June low at one Day High 1 June 7:10');
});

test('title, caption, file name and credit line are told apart, warned of, saved and delivered', async () => {
  await openDesk('guest-09');
  await open('Caption');
  await page.getByRole('textbox', { name: 'Caption' }).fill('The old boat meets the new one, May 2026');
  await open('Title');
  await page.getByText('Touch and keyboard users never see it').waitFor();
  await page.getByText('The picture is decorative; a title would be announced.').waitFor();
  await open('File name');
  await page.getByRole('textbox', { name: 'File name' }).fill('zwei Boote.jpg');
  await page.getByText('Not saved: only letters without accents').first().waitFor();
  // What is saved while somebody writes takes older messages away: it comes first here.
  const renamed = page.waitForResponse((r) => r.request().postData()?.includes('two-boats.jpg') ?? false);
  await page.getByRole('textbox', { name: 'File name' }).fill('two-boats.jpg');
  await (await renamed).finished();
  await open('Credit and licence');
  await page.getByRole('textbox', { name: 'Credit', exact: true }).fill('Ann Roe');
  await page.getByRole('button', { name: 'Save credit' }).press('Enter');
  await announced('Credit saved.');
  await page.getByRole('checkbox', { name: /^Put this line below the picture/ }).press('Space');
  await announced('The credit line will stand below the picture.');
  await saved();
  expect(await axeViolations(page)).toEqual([]);

  await openDesk('guest-12');
  await open('Title');
  const alt = await page.getByRole('textbox', { name: 'Alt text' }).inputValue();
  await page.getByRole('textbox', { name: 'Title' }).fill(alt);
  await page.getByText('It repeats the alt text; some screen readers say both').first().waitFor();
  await page.getByText('repeats the title: it is heard twice').waitFor();
  await saved();

  await page.goto(`/c/${collection}/delivery`);
  for (const what of ['Caption: changed', 'Credit line: added', 'Title: changed', 'Long description: added'])
    await page.getByText(what).first().waitFor();
  await page.getByRole('heading', { name: '1 file to rename' }).waitFor();
  expect(await axeViolations(page)).toEqual([]);
  expect((await download('Redirects for Apache')).toString()).toBe(
    'Redirect permanent /pictures/guest-09.jpg /pictures/two-boats.jpg\n',
  );
  const files = await unzip(await download('Download changed files (ZIP)'));
  const html = files.get('guests.html')!.toString();
  expect(html).toContain('<figcaption>The old boat meets the new one, May 2026</figcaption>');
  expect(html).toContain('<p class="picture-credit"><small>Photo: Ann Roe</small></p>');
});

test('an earlier caption is used again from its history', async () => {
  await openDesk('guest-09');
  await open('Caption');
  const caption = page.getByRole('textbox', { name: 'Caption' });
  await caption.fill('Two boats');
  await saved();
  await page.getByRole('button', { name: /^Use again ?: Caption, The old boat meets/ }).press('Enter');
  expect(await caption.inputValue()).toBe('The old boat meets the new one, May 2026');
  await page.getByRole('button', { name: /^Keep “The old boat and the new one/ }).press('Enter');
  expect(await caption.inputValue()).toBe('The old boat and the new one, the day they met');
});

test('nothing went wrong on the way', () => expect(problems).toEqual([]));
