import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { PDFDocument } from '@cantoo/pdf-lib';
import sharp from 'sharp';
import { unzip } from '../src/server/testing/unzip';
import { axeViolations, begin, DATA, DETTO, listening, SITE } from './support/detto';
import { session, type Line } from './support/session';

/** Delivery: every change is seen before it is taken, and what is taken differs in nothing else. */
const { page, problems, collection, openDesk, altText, saved } = await session('demo');

const WORDS = 'Two puffins "face" each other & stay';

async function word(file: string, text: string): Promise<void> {
  await openDesk(file);
  await altText().fill(text);
  await saved();
}

async function download(name: string): Promise<Buffer> {
  await page.goto(`/c/${collection}/delivery`);
  const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name }).click()]);
  return readFileSync(await file.path());
}

/** All attributes of all elements, by Chromium's own parser. */
function attributes(html: string): Promise<string[]> {
  return page.evaluate(
    (source) =>
      [...new DOMParser().parseFromString(source, 'text/html').querySelectorAll('*')].map(
        (e) => `${e.tagName} ${[...e.attributes].map((a) => `${a.name}=${JSON.stringify(a.value)}`).join(' ')}`,
      ),
    html,
  );
}

test('nothing waits at first', async () => {
  await page.goto(`/c/${collection}/delivery`);
  await page.getByRole('heading', { name: 'Nothing to deliver yet.' }).waitFor();
});

test('every change is shown as the line before and after', async () => {
  await word('IMG_2041', WORDS);
  await word('staff-01', 'Isla Marr, skipper');
  await page.goto(`/c/${collection}/delivery`);
  await page.getByRole('heading', { name: '5 changes on 4 pages to deliver.' }).waitFor();
  const removed = await page.locator('del').allTextContents();
  const added = await page.locator('ins').allTextContents();
  expect(added.join('')).toContain('alt="Isla Marr, skipper"');
  expect(added.join('')).toContain('&quot;face&quot;');
  expect(removed.join('')).not.toContain('src=');
});

test('the ZIP holds the changed pages; Chromium sees the words and no other difference', async () => {
  const files = await unzip(await download('Download changed files (ZIP)'));
  const fixed = files.get('a-day-on-the-holm.html')!.toString();
  const original = await (await fetch(`${SITE}/a-day-on-the-holm`)).text();
  const [before, after] = [await attributes(original), await attributes(fixed)];
  const differing = after.filter((line, i) => line !== before[i]);
  expect(after.length).toBe(before.length);
  expect(differing.length).toBe(2);
  expect(differing[0]).toContain(`alt=${JSON.stringify(WORDS)}`);
  expect(differing[1]).toContain('alt="Isla Marr, skipper"');
  await page.reload();
  await page
    .getByText(/changes on \d pages/)
    .nth(1)
    .waitFor();
});

test('the unified diff says the same', async () => {
  const diff = (await download('Download changes (unified diff)')).toString();
  expect(diff).toContain('--- a/a-day-on-the-holm.html');
  expect(diff).toMatch(
    /^\+<img src="\/pictures\/IMG_2041\.jpg" alt="Two puffins &quot;face&quot; each other &amp; stay">$/m,
  );
});

test('a page that changed since the survey is not overwritten blindly', async () => {
  const put = (words: string | null) =>
    fetch(`${SITE}/store/pictures/puffin-5`, { method: 'PUT', body: JSON.stringify({ words }) });
  const store = (await (await fetch(`${SITE}/store/pictures`)).json()) as { id: string; words: string }[];
  expect((await put('Puffins, three of them')).status).toBe(200);
  try {
    await page.goto(`/c/${collection}/delivery`);
    await listening(page);
    await page.getByRole('button', { name: 'Compare again' }).click();
    await page.getByText('It has changed since the survey.').first().waitFor();
    await page.getByRole('button', { name: 'Survey again' }).first().click();
    await page.getByText('Done.').waitFor();
    await page.goto(`/c/${collection}/delivery`);
    await page.getByRole('heading', { name: 'changes on' }).waitFor();
    // Shown as it was until it is compared with what the survey has found.
    await page.getByText('It has changed since the survey.').first().waitFor({ state: 'hidden' });
  } finally {
    await put(store.find((p) => p.id === 'puffin-5')!.words);
  }
});

test('a document that cannot be written is left out with its reason, and stops no other', async () => {
  const root = mkdtempSync(path.join(DATA, 'mixed-'));
  const drawn = sharp({ create: { width: 200, height: 120, channels: 3, background: '#1f3f58' } }).png();
  const bytes = await drawn.toBuffer();
  writeFileSync(path.join(root, 'quay.png'), bytes);
  writeFileSync(
    path.join(root, 'page.html'),
    '<!doctype html><html lang="en"><title>Quay</title><p>Text<img src="quay.png">',
  );
  // A writer of PDFs that tags nothing.
  const pdf = await PDFDocument.create();
  pdf.addPage([300, 200]).drawImage(await pdf.embedPng(bytes), { x: 20, y: 20, width: 200, height: 120 });
  writeFileSync(path.join(root, 'leaflet.pdf'), await pdf.save());
  const mixed = await begin({ kind: 'folder', where: root, name: 'Mixed' });
  const { lines } = (await (await fetch(`${DETTO}/api/collections/${mixed}/lines`)).json()) as { lines: Line[] };
  const target = { kind: 'pictures', pictures: lines.map((l) => l.id) };
  await fetch(`${DETTO}/api/collections/${mixed}/wordings`, {
    method: 'PUT',
    body: JSON.stringify({ target, text: 'The quay at noon' }),
  });
  await page.goto(`/c/${mixed}/delivery`);
  await page.getByText('The PDF is not tagged, so no alt text can be written.').first().waitFor();
  await page.getByText('The quay at noon').first().waitFor();
  await page.getByRole('button', { name: 'Download changed files (ZIP)' }).waitFor();
});

test('words go into the folder that was surveyed, by keyboard, and are taken back again', async () => {
  const root = mkdtempSync(path.join(DATA, 'in-place-'));
  const file = path.join(root, 'page.html');
  const before = '<!doctype html><html lang="en"><title>Quay</title><p>Text<img src="quay.png">';
  writeFileSync(file, before);
  const drawn = sharp({ create: { width: 200, height: 120, channels: 3, background: '#1f3f58' } }).png();
  writeFileSync(path.join(root, 'quay.png'), await drawn.toBuffer());
  const own = await begin({ kind: 'folder', where: root, name: 'In place' });
  const { lines } = (await (await fetch(`${DETTO}/api/collections/${own}/lines`)).json()) as { lines: Line[] };
  await fetch(`${DETTO}/api/collections/${own}/wordings`, {
    method: 'PUT',
    body: JSON.stringify({ target: { kind: 'pictures', pictures: [lines[0]!.id] }, text: 'The quay at noon' }),
  });
  await page.goto(`/c/${own}/delivery`);
  const opener = page.getByRole('button', { name: 'Write into a folder …' });
  await opener.focus();
  await page.keyboard.press('Enter');
  const dialog = page.getByRole('dialog', { name: 'Write into a folder' });
  await dialog.getByText('1 file would be written.').waitFor();
  expect(await axeViolations(page)).toEqual([]);
  await dialog.getByRole('textbox', { name: 'Folder' }).fill('/nowhere/at/all');
  await dialog.getByText('There is no folder at /nowhere/at/all.').waitFor();
  expect(problems.splice(0)).toEqual([expect.stringMatching(/^400 .*\/deliveries\/plan$/)]);
  await dialog.getByRole('textbox', { name: 'Folder' }).fill(root);
  await dialog.getByRole('button', { name: 'Write 1 file' }).waitFor();
  await page.keyboard.press('Enter');
  await page.getByText(/Folder \/.*: 1 change on 1 page\.$/).waitFor();
  expect(readFileSync(file, 'utf8')).toBe(before.replace('src="quay.png"', 'src="quay.png" alt="The quay at noon"'));
  await page.getByRole('heading', { name: 'Nothing to deliver yet.' }).waitFor();
  await page.getByRole('button', { name: /^Check the files/ }).click();
  await page.getByText('1 file is as delivered.').waitFor();
  // The survey that follows has to be over.
  for (let i = 0; i < 200; i++) {
    const shelf = (await (await fetch(`${DETTO}/api/collections`)).json()) as {
      id: string;
      survey: { state: string };
    }[];
    if (shelf.find((one) => one.id === own)!.survey.state === 'done') break;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  await page.getByRole('button', { name: /^Undo.*in-place-/ }).click();
  await page.getByText(/, undone\.$/).waitFor();
  expect(readFileSync(file, 'utf8')).toBe(before);
  // What was taken back waits again.
  await page.getByRole('heading', { name: '1 change on 1 page to deliver.' }).waitFor();
});

test('a file is given in parts, so that a download can go on', async () => {
  const { id } = (
    (await (await fetch(`${DETTO}/api/collections/${collection}/deliveries`)).json()) as {
      id: number;
      target: string;
    }[]
  ).find((d) => d.target === 'zip')!;
  const file = `${DETTO}/api/collections/${collection}/deliveries/${id}/file`;
  const whole = await fetch(file);
  const etag = whole.headers.get('etag')!;
  const bytes = Buffer.from(await whole.arrayBuffer());
  const rest = await fetch(file, { headers: { range: 'bytes=100-', 'if-range': etag } });
  expect([rest.status, rest.headers.get('content-range')]).toEqual([
    206,
    `bytes 100-${bytes.length - 1}/${bytes.length}`,
  ]);
  expect(Buffer.from(await rest.arrayBuffer()).equals(bytes.subarray(100))).toBe(true);
});

test('nothing went wrong in the page meanwhile', () => expect(problems).toEqual([]));
