import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import type { Locator, Page } from 'playwright-core';
import sharp from 'sharp';
import { begin, DATA, DETTO, listening } from './support/detto';
import { session } from './support/session';

/**
 * Where the focus is before, during and after every dialog and list of the application, by its button, by Escape and by
 * what it does (ARIA Authoring Practices: dialog, listbox and combobox patterns; WCAG 2.2, 2.4.3).
 */
const { page, problems, collection, lineOf } = await session('demo');

interface Opener {
  name: string;
  /** Path of the page below the collection; of the whole application where it begins with `//`. */
  at: string;
  /** Gives what has the focus and opens it by a key. */
  from(on: Page): Promise<Locator> | Locator;
  /** Enter where absent. */
  key?: string;
  /** Chosen in the list that opens first. */
  option?: RegExp;
  /** What opens. */
  opens: 'dialog' | 'list';
  /** Fills the dialog in, so that its first button can be pressed; absent where that leads elsewhere or deletes. */
  fill?(dialog: Locator): Promise<unknown>;
}

const button = (name: string | RegExp) => (on: Page) => on.getByRole('button', { name }).first();
const row = (on: Page) => on.locator('[data-cell="1-1"]');
const select = async (on: Page) => {
  await row(on).focus();
  await on.keyboard.press('Space');
};
/** Of the selection, by its bar. */
const bulk =
  (name: RegExp): Opener['from'] =>
  async (on) => {
    await select(on);
    return on.getByRole('region', { name: /^Selection/ }).getByRole('button', { name });
  };
const text = (on: Page) => on.getByRole('textbox', { name: 'Alt text' });
const nothing = async () => undefined;

const OPENERS: Opener[] = [
  { name: 'Rename', at: '//', from: button(/^Rename/), opens: 'dialog', fill: nothing },
  { name: 'Remove', at: '//', from: button(/^Remove/), opens: 'dialog' },
  { name: 'What to survey', at: '//', from: (on) => on.getByRole('combobox').first(), opens: 'list' },
  {
    ...{ name: 'Name thumbnails', at: '//c/birds/brief', from: button(/^Name them by their pages/), opens: 'dialog' },
    fill: (dialog) => dialog.getByRole('list').waitFor(),
  },
  { name: 'Keys, by their button', at: '/galley', from: button(/keys and help$/), opens: 'dialog' },
  { name: 'Keys, while writing', at: '/desk', from: text, key: 'F1', opens: 'dialog' },
  { name: 'The picture, large', at: '/desk', from: (on) => on.locator('button.cursor-zoom-in'), opens: 'dialog' },
  { name: 'State', at: '/galley', from: button(/^State/), opens: 'list' },
  { name: 'Finding', at: '/galley', from: button(/^(?:Rule|Finding)/), opens: 'list' },
  { name: 'Order', at: '/galley', from: button(/^(?:Sort|Order)/), opens: 'list' },
  { name: 'More filters', at: '/galley', from: button(/add a filter$/), opens: 'list' },
  { name: 'Grouping', at: '/galley', from: button(/^(?:grouped|Grouped)/i), opens: 'list' },
  { name: 'View', at: '/galley', from: button(/^View/), opens: 'list' },
  { name: 'Export and import', at: '/galley', from: button(/Lists$/), opens: 'list' },
  {
    ...{ name: 'Save this view', at: '/galley', from: button(/^View/), option: /Save this view …/, opens: 'dialog' },
    fill: (dialog) => dialog.getByRole('textbox').fill('Mine'),
  },
  { name: 'Import a list', at: '/galley', from: button(/Lists$/), option: /Import a list/, opens: 'dialog' },
  {
    ...{ name: 'Find and replace', at: '/galley', from: button(/^Find and replace/), opens: 'dialog' },
    fill: async (dialog) => {
      const [find, put] = await dialog.getByRole('textbox').all();
      await find!.fill('ferry');
      await put!.fill('boat');
      await dialog.getByRole('checkbox').nth(2).waitFor();
    },
  },
  { name: 'Start a round, from the Galley', at: '/galley', from: button(/^Draft/), opens: 'dialog' },
  { name: 'Mark decorative, of many', at: '/galley', from: bulk(/^Mark decorative/), opens: 'dialog', fill: nothing },
  {
    ...{ name: 'One text for many', at: '/galley', from: bulk(/text/i), opens: 'dialog' },
    fill: (dialog) => dialog.getByRole('textbox').fill('A text for many'),
  },
  { name: 'Start a round', at: '/rounds', from: button(/^Start a round/), opens: 'dialog' },
  { name: 'Add a service', at: '/rounds', from: button(/^Add a service/), opens: 'dialog' },
  { name: 'Write into a folder', at: '//c/birds/delivery', from: button(/^Write into a folder/), opens: 'dialog' },
  { name: 'Order of reading', at: '/rounds/read', from: button(/^Order/), opens: 'list' },
  { name: 'Accept what has no findings', at: '/rounds/read', from: button(/without findings|clean/i), opens: 'dialog' },
  { name: 'Reject', at: '/rounds/read', from: button(/^Reject/), opens: 'dialog', fill: nothing },
  { name: 'Ask again', at: '/rounds/read', from: button(/^Ask again/), opens: 'dialog', fill: nothing },
  { name: 'A setting', at: '/style', from: (on) => on.getByRole('combobox').first(), opens: 'list' },
  { name: 'Survey log', at: '/survey', from: (on) => on.getByRole('combobox').first(), opens: 'list' },
];

/** Where dialogs and lists are made, with how many each file makes; what is new here needs an opener above. */
const MADE: Record<string, number> = {
  'brief/thumbnails.tsx': 1,
  'delivery/target-dialog.tsx': 1,
  'desk/plate.tsx': 1,
  'galley/bulk-dialog.tsx': 1,
  'galley/facet-choice.tsx': 1,
  'galley/list-menu.tsx': 1,
  'galley/replace-dialog.tsx': 1,
  'galley/sentence.tsx': 3,
  'galley/upload-dialog.tsx': 1,
  'galley/views.tsx': 2,
  'keys/keys-dialog.tsx': 1,
  'primitives/dialog-content.tsx': 2,
  'primitives/modal.tsx': 1,
  'primitives/choice.tsx': 1,
  'primitives/pick.tsx': 1,
  'reading/dialogs.tsx': 4,
  'reading/reading.tsx': 1,
  'rounds/round-dialog.tsx': 1,
  'rounds/services.tsx': 1,
  'shelf/add-form.tsx': 1,
  'shelf/shelf.tsx': 2,
  'style/fields.tsx': 1,
  'style/style-editor.tsx': 1,
  'survey/limits.tsx': 1,
  'survey/log-table.tsx': 1,
};

test('every dialog and list is on the list of this test', () => {
  const folder = path.resolve('src/ui');
  const made: Record<string, number> = {};
  for (const file of readdirSync(folder, { recursive: true }) as string[]) {
    if (!file.endsWith('.tsx') || file.endsWith('.test.tsx')) continue;
    const source = readFileSync(path.join(folder, file), 'utf8');
    const found = source.match(
      /<(?:Modal|Choice|Pick|(?:Alert)?DialogContent|(?:Alert)?Dialog\.Content|Popover\.Content|Select\.Content|DropdownMenu\.Content)\b/g,
    );
    if (found) made[file.replaceAll('\\', '/')] = found.length;
  }
  expect(made).toEqual(MADE);
});

beforeAll(async () => {
  await fetch(`${DETTO}/api/drafting-services`, {
    method: 'POST',
    body: JSON.stringify({
      ...{
        name: 'Harbour',
        address: `${process.env['E2E_SERVICE']}/v1`,
        model: 'harbour-vision',
        key: 'harbour-demo-key',
      },
      ...{ priceIn: 1, priceOut: 1, currency: 'EUR', perMinute: 600, monthlyBudget: null },
    }),
  });
  const birds = await begin({ kind: 'folder', where: await gallery(), name: 'Birds' });
  const { appearanceId } = await lineOf('Puffin.png', birds);
  await fetch(`${DETTO}/api/collections/${birds}/wordings`, {
    method: 'PUT',
    body: JSON.stringify({ target: { kind: 'places', places: [appearanceId] }, text: 'A puffin on its cliff' }),
  });
  const order = { target: { kind: 'view', view: {}, except: [] }, service: null };
  await fetch(`${DETTO}/api/collections/${collection}/rounds`, { method: 'POST', body: JSON.stringify({ order }) });
  for (let i = 0; i < 300; i++) {
    const rounds = (await (await fetch(`${DETTO}/api/collections/${collection}/rounds`)).json()) as {
      toRead: number;
      state: string;
    }[];
    if (rounds[0]!.state === 'done' && rounds[0]!.toRead > 5) break;
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
});

/** A folder with a gallery whose thumbnails lead to pages with the large pictures, and have no text. */
async function gallery(): Promise<string> {
  const root = mkdtempSync(path.join(DATA, 'birds-'));
  const birds = ['Puffin', 'Gannet', 'Fulmar'];
  for (const [n, bird] of birds.entries()) {
    for (const [end, width] of [['_thumb', 80] as const, ['', 480] as const]) {
      const drawn = sharp({ create: { width, height: width, channels: 3, background: { r: 60 * n, g: 90, b: 120 } } });
      writeFileSync(path.join(root, `${bird}${end}.png`), await drawn.png().toBuffer());
    }
    const picture = `<p><img src="${bird}.png" alt="A bird on its cliff, number ${n}">`;
    writeFileSync(path.join(root, `${bird}.html`), `<html lang="en"><title>${bird}</title><main>${picture}`);
  }
  const cards = birds.map((b) => `<li><a href="${b}.html"><img src="${b}_thumb.png"></a>`);
  writeFileSync(path.join(root, 'index.html'), `<html lang="en"><title>Birds</title><main><ul>${cards.join('')}</ul>`);
  return root;
}

/** What has the focus, as one would point at it. */
const focus = () =>
  page.evaluate(() => {
    const at = document.activeElement;
    if (!at || at === document.body) return { where: 'body', inside: '', label: '' };
    const layer = at.closest('.pick-list, [role=listbox], [role=dialog], [role=alertdialog]');
    const inside = !layer ? 'page' : layer.matches('.pick-list, [role=listbox]') ? 'list' : 'dialog';
    return {
      where: at.tagName,
      inside,
      label: (at.getAttribute('aria-label') ?? at.textContent ?? '').trim().slice(0, 60),
    };
  });
const whenInside = (wanted: string) =>
  page.waitForFunction((is) => {
    const at = document.activeElement;
    if (!at || at === document.body) return false;
    const layer = at.closest('.pick-list, [role=listbox], [role=dialog], [role=alertdialog]');
    return (!layer ? 'page' : layer.matches('.pick-list, [role=listbox]') ? 'list' : 'dialog') === is;
  }, wanted);

async function open({ at, from, key = 'Enter', option, opens }: Opener): Promise<Locator> {
  const to = at.startsWith('//')
    ? at.slice(1)
    : `/c/${collection}${at === '/desk' ? `/desk/${(await lineOf('seal')).id}` : at}`;
  await page.goto(to);
  await listening(page);
  const opener = await from(page);
  await opener.focus();
  await page.keyboard.press(key);
  if (option) {
    await whenInside('list');
    await page.getByRole('option', { name: option }).click();
  }
  await whenInside(opens);
  return opener;
}

describe.each(OPENERS)('$name', (opener) => {
  test('takes the focus, keeps it, and Escape gives it back to what opened it', async () => {
    const from = await open(opener);
    for (let i = 0; i < 6; i++) {
      await page.keyboard.press(i % 3 === 2 ? 'Shift+Tab' : 'Tab');
      if (opener.opens === 'dialog') expect(['dialog', 'list']).toContain((await focus()).inside);
    }
    await page.keyboard.press('Escape');
    await whenInside('page');
    await page.waitForTimeout(150);
    expect(await from.evaluate((e) => e === document.activeElement)).toBe(true);
  });

  if (opener.fill)
    test('done with, it leaves the focus at what it was about', async () => {
      await open(opener);
      const dialog = page.getByRole('dialog').or(page.getByRole('alertdialog')).last();
      await opener.fill!(dialog);
      await dialog.locator('button[type=submit]:not(:disabled)').first().press('Enter');
      await whenInside('page');
      await page.waitForTimeout(600);
      const { where, inside, label } = await focus();
      expect([where, inside, label]).not.toContain('body');
      // Neither the heading nor the way past the navigation: from there, one would have to begin anew.
      expect(where).not.toMatch(/^H[1-6]$/);
      expect(label).not.toMatch(/^Skip/);
    });
});

test('another draft of a picture takes the place of the one before', async () => {
  await page.goto(`/c/${collection}/rounds/read`);
  await listening(page);
  const position = () => page.getByRole('heading', { level: 1 }).innerText();
  const first = await position();
  const drafts = Number(/ of (\d+) /.exec(first)![1]);
  expect(drafts).toBeGreaterThan(1);
  for (let i = 0; i < Math.min(3, drafts - 1); i++) {
    const before = await position();
    await page.keyboard.press('ArrowRight');
    await page.waitForFunction((was) => document.querySelector('h1')!.innerText !== was, before);
  }
  // A draft that is still on its way is not asked for again.
  await button(/^Ask again/)(page).waitFor();
  const shown = () => page.locator('main img').first().getAttribute('src');
  const picture = await shown();
  await page.keyboard.press('F4');
  await whenInside('dialog');
  await page.getByRole('dialog').locator('button[type=submit]').press('Enter');
  await whenInside('page');
  await page.waitForTimeout(1500);
  // It may have moved in the order, being more or less certain; one reads on with the same picture.
  expect(await shown()).toBe(picture);
  expect(await position()).not.toBe(first);
});

test('a filter that was added stays in the sentence before it has a value, and has the focus', async () => {
  await page.goto(`/c/${collection}/galley`);
  await listening(page);
  for (const filter of [/kind/i, /language/i]) {
    await page
      .getByRole('button', { name: /add a filter$/ })
      .first()
      .press('Enter');
    await whenInside('list');
    await page.getByRole('option', { name: filter }).first().click();
    await page.waitForFunction(() => document.activeElement?.closest('[data-facet]') !== null);
  }
  expect(await page.locator('[data-facet]').count()).toBe(2);
});

test('Control and Enter saves a long description too, and goes on to the next picture', async () => {
  await page.goto(`/c/${collection}/desk/${(await lineOf('timetable')).id}`);
  await listening(page);
  const before = page.url();
  await page.getByText('Long description', { exact: true }).first().click();
  const editor = page.getByRole('textbox', { name: /^Long description/ });
  await editor.waitFor();
  await editor.focus();
  await page.keyboard.type('Sailings, one by one');
  await page.keyboard.press('Control+Enter');
  await page.waitForFunction((was) => location.href !== was, before);
});

test('nothing went wrong meanwhile', () => expect(problems.filter((p) => !p.startsWith('4'))).toEqual([]));
