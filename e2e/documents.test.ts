import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { documentsFolder } from '../demo/documents';
import { formatById } from '../src/core/formats';
import { ZipFile } from '../src/core/formats/zip/zip-file';
import { unzip } from '../src/server/testing/unzip';
import { axeViolations, begin, DETTO, focused, listening } from './support/detto';
import { session, type Line } from './support/session';

/** Documents from the survey to the delivery, by keyboard: a talk, a leaflet, a notice, a letter. */
const folder = mkdtempSync(path.join(tmpdir(), 'detto-e2e-documents-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
await documentsFolder(path.resolve('dist/demo-pictures'), folder);
const { page, problems, altText, saved } = await session('shared');
const collection = await begin({ kind: 'folder', where: folder, name: 'Documents test' });

async function lines(query: string): Promise<Line[]> {
  const response = await fetch(`${DETTO}/api/collections/${collection}/lines?${query}`);
  return ((await response.json()) as { lines: Line[] }).lines;
}
async function openRule(rule: string): Promise<void> {
  const [line] = await lines(`rule=${rule}`);
  await page.goto(`/c/${collection}/desk/${line!.id}?place=${line!.appearanceId}`);
  await listening(page);
}

test('the survey reads every document', async () => {
  await page.goto(`/c/${collection}/survey`);
  expect((await lines('')).length).toBeGreaterThan(20);
});

test('a chart is at the Desk with its slide, its drawing and its numbers', async () => {
  await openRule('object-unnamed');
  await page
    .getByText(/slide 3, middle|cells A7:G23/)
    .first()
    .waitFor();
  const words = 'Passengers rise from 2,100 in April to 8,700 in July';
  await altText().fill(words);
  await saved();
  // Its data begins the long description.
  await page.locator('summary', { hasText: 'Long description' }).click();
  await page.getByRole('button', { name: 'Begin with its data' }).click();
  await page.getByRole('textbox', { name: 'Long description' }).getByRole('table').waitFor();
  expect(await axeViolations(page)).toEqual([]);
});

test('the page of a place is shown on demand, by keyboard', async () => {
  await openRule('layout-picture-worded');
  const button = page.getByRole('button', { name: 'Show the page' });
  await button.focus();
  await page.keyboard.press('Enter');
  await page.frameLocator('iframe').locator('body').waitFor();
  expect(await focused(page)).toContain('Hide the page');
  expect(await axeViolations(page)).toEqual([]);
});

test('words wait for the delivery, document by document, with the part and the place; markup on request', async () => {
  await openRule('file-name');
  await altText().fill('Two puffins above the cliff');
  await saved();
  await openRule('figure-untagged');
  await altText().fill('The lighthouse of 1862');
  await saved();
  await page.goto(`/c/${collection}/delivery`);
  await page.getByText('Show the markup').first().waitFor();
  await page.getByText(/cannot be put into the page or document/).waitFor();
  await page.getByText(/not tagged as a figure/).waitFor();
  await page.evaluate(() => document.querySelectorAll('details').forEach((d) => (d.open = true)));
  expect(await page.locator('ins').allTextContents()).toEqual(
    expect.arrayContaining([expect.stringContaining('Passengers rise')]),
  );
  expect(await axeViolations(page)).toEqual([]);
});

test('the ZIP holds the changed documents; of each, only the part with words differs', async () => {
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Download changed files (ZIP)' }).click(),
  ]);
  const files = await unzip(readFileSync(await file.path()));
  const office = [...files.keys()].filter((name) => /\.(?:pptx|xlsx)$/.test(name));
  expect(office.length).toBe(1);
  const [name] = office;
  const [before, after] = [readFileSync(path.join(folder, name!)), files.get(name!)!];
  const { pages } = await formatById(name!.endsWith('.pptx') ? 'pptx' : 'xlsx').read(after);
  expect(pages.flatMap((p) => p.reading.appearances.map((a) => a.accessible.name))).toContain(
    'Passengers rise from 2,100 in April to 8,700 in July',
  );
  const [a, b] = [await ZipFile.open(before), await ZipFile.open(after)];
  expect(a.names.filter((n) => !a.read(n).equals(b.read(n)))).toEqual([
    expect.stringMatching(/slide3\.xml|drawing1\.xml/),
  ]);
});

test('at 320 px the Desk and the delivery fit', async () => {
  await page.setViewportSize({ width: 320, height: 640 });
  for (const address of [
    `/c/${collection}/delivery`,
    `/c/${collection}/desk/${(await lines('rule=group-words'))[0]!.id}`,
  ]) {
    await page.goto(address);
    await page.locator('#sheet').waitFor();
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(320);
  }
  expect(problems).toEqual([]);
});
