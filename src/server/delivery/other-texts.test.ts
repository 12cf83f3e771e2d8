import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { and, eq } from 'drizzle-orm';
import { readPage } from '@/core/formats/html/read-page';
import { unzip } from '../testing/unzip';
import type { TextField } from '@/core/model/texts';

/**
 * Titles, captions, credit lines, long descriptions and file names, from the Desk into the pages: what is delivered is
 * surveyed again, and found to be there.
 */
const folder = mkdtempSync(path.join(tmpdir(), 'detto-texts-'));
process.env['DETTO_DATA'] = path.join(folder, 'data');
const site = path.join(folder, 'site');

const { saveHouseStyle } = await import('../audit/house-style');
const { countsOf, insertCollection } = await import('../catalogue/collections');
const { recordCredit } = await import('../catalogue/credit');
const { placeLongDescription, showCreditLine } = await import('../catalogue/placement');
const { closeDatabase, database } = await import('../db/database');
const { appearance, fieldText, finding, page, picture } = await import('../db/schema');
const { startSurvey, surveyOver } = await import('../survey/surveys');
const { startJobs, stopJobs } = await import('../pipeline/pipeline');
const { saveFieldText } = await import('../wordings/field-texts');
const { saveWords, settlePurpose } = await import('../wordings/wordings');
const { downloaded, previewed } = await import('../testing/delivery');
const { renameList, renamesOf } = await import('./renames');

const DOT = Buffer.from('R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7', 'base64');
const PAGES = {
  'index.html':
    '<!DOCTYPE html><html lang="en"><title>Tides</title><h2>Tides</h2>\n<figure>\n  <img src="pic/IMG_2041.gif" alt="Tide chart for June">\n  <figcaption>Tides</figcaption>\n</figure>\n',
  'more/again.html':
    '<!DOCTYPE html><html lang="de"><title>Gezeiten</title><p>Die <img src="../pic/IMG_2041.gif" alt="Gezeiten im Juni"> Karte.</p>',
};
const LONG = '## June\n\n| Day | High |\n| --- | --- |\n| 1 | 7:10 |\n\nSee [the harbour](https://harbour.example/).';
let c: Awaited<ReturnType<typeof insertCollection>>;
let pictureId: number;

const survey = async () => surveyOver(await startSurvey(c.id));
const placeOn = async (name: string) => {
  const rows = await (
    await database()
  )
    .select({ id: appearance.id, title: appearance.title, caption: appearance.caption, line: appearance.creditLine })
    .from(appearance)
    .innerJoin(page, eq(page.id, appearance.pageId))
    .where(and(eq(page.path, name), eq(appearance.gone, false)));
  return rows[0]!;
};
const save = async (
  field: TextField,
  text: string | null,
  act: string,
  more: { places?: number[]; base?: string } = {},
) => saveFieldText({ collectionId: c.id, field, pictureId, places: [], text, act, ...more });
const rules = async () =>
  (await (await database()).select({ rule: finding.rule }).from(finding).where(eq(finding.collectionId, c.id))).map(
    (f) => f.rule,
  );

/** The files of the delivery's ZIP, by name. */
async function delivered(): Promise<Map<string, string>> {
  const files = await unzip((await downloaded(c, 'zip')).bytes);
  return new Map([...files].map(([name, bytes]) => [name, bytes.toString()]));
}

/** Puts what was delivered in place, as an editor does. */
async function publish(): Promise<Map<string, string>> {
  const files = await delivered();
  for (const [name, html] of files) {
    mkdirSync(path.dirname(path.join(site, name)), { recursive: true });
    writeFileSync(path.join(site, name), html);
  }
  await survey();
  return files;
}

beforeAll(async () => {
  for (const [name, html] of Object.entries(PAGES)) {
    mkdirSync(path.dirname(path.join(site, name)), { recursive: true });
    writeFileSync(path.join(site, name), html);
  }
  mkdirSync(path.join(site, 'pic'));
  writeFileSync(path.join(site, 'pic/IMG_2041.gif'), DOT);
  c = await insertCollection({ name: 'Texts', kind: 'folder', root: site, maxPages: 100, maxDepth: 3 });
  startJobs();
  await survey();
  [{ id: pictureId }] = (await (await database()).select({ id: picture.id }).from(picture)) as [{ id: number }];
  const places = [(await placeOn('index.html')).id, (await placeOn('more/again.html')).id];
  await settlePurpose(c.id, places, 'complex', 'act-purpose');
});
afterAll(async () => {
  await stopJobs();
  await closeDatabase();
  rmSync(folder, { recursive: true, force: true });
});

test('a complex picture needs a long description; once one is accepted, it goes into every page that shows the picture', async () => {
  expect(await rules()).toContain('needs-long-description');
  await save('long-description', LONG, 'act-long');
  expect(await rules()).not.toContain('needs-long-description');
  expect((await countsOf(c.id)).delivery).toBe(2);
  const pages = new Map((await previewed(c)).map((p) => [p.path, p]));
  expect([...pages.values()].map((p) => [p.path, p.refusals, p.changes.map((x) => x.part)])).toEqual([
    ['index.html', [], ['long-description']],
    ['more/again.html', [], ['long-description']],
  ]);
  expect(pages.get('more/again.html')!.changes[0]!.after).toContain('Ausführliche Beschreibung: Gezeiten im Juni');
});

test('title, caption and credit line wait beside it, and the count says so', async () => {
  const { id } = await placeOn('index.html');
  await save('title', 'Heights in metres', 'act-title', { places: [id], base: '' });
  await save('caption', 'Heights at Brannoch quay', 'act-caption', { places: [id], base: 'Tides' });
  await recordCredit(c.id, pictureId, { credit: 'Ann Roe', licence: '', source: '' }, 'act-credit');
  await showCreditLine(c.id, [id], true, 'act-line');
  const [first] = await previewed(c);
  expect(first!.changes.map((x) => x.part)).toEqual(['attributes', 'credit', 'caption', 'long-description']);
  expect(first!.refusals).toEqual([]);
  expect((await countsOf(c.id)).delivery).toBe(5);
});

test('published and surveyed again, everything is there: nothing waits, and every text is read from the page', async () => {
  const files = await publish();
  const html = files.get('index.html')!;
  const [read] = readPage(Buffer.from(html)).appearances;
  expect(read).toMatchObject({
    markup: { title: 'Heights in metres', alt: 'Tide chart for June' },
    context: { caption: 'Heights at Brannoch quay' },
  });
  expect(read!.accessible.descriptions[0]).toMatchObject({ by: 'aria-details', leads: 'to text' });
  expect(html).toContain('<th scope="col">Day</th>');
  // The heading comes under the one before the picture.
  expect(html).toContain('<h3>June</h3>');
  expect(await previewed(c)).toEqual([]);
  expect(await placeOn('index.html')).toMatchObject({ title: null, caption: null, line: null });
  expect((await countsOf(c.id)).delivery).toBe(0);
  expect(await rules()).not.toContain('needs-long-description');
});

test('moved to a page of its own, it leaves the pages, which lead there; the new page leads back', async () => {
  await placeLongDescription(c.id, pictureId, { stand: 'page', tie: 'aria-details' }, 'act-own-page');
  const pages = await previewed(c);
  expect(pages.map((p) => [p.isNew, p.refusals])).toEqual([
    [false, []],
    [false, []],
    [true, []],
  ]);
  const files = await publish();
  const own = pages[2]!.file;
  expect(own).toMatch(/^img-2041-description-[0-9a-f]{8}\.html$/);
  expect(files.get(own)).toContain('<h2>June</h2>');
  expect(files.get(own)).toContain('<a href="more/again.html">Gezeiten</a>');
  expect(files.get('more/again.html')).toContain(`<a href="../${own}">`);
  expect(files.get('index.html')).not.toContain('<details');
});

test('removed, it leaves pages that are as if it had never been there', async () => {
  await placeLongDescription(c.id, pictureId, { stand: 'below', tie: 'aria-describedby' }, 'act-below');
  await publish();
  expect(readFileSync(path.join(site, 'more/again.html'), 'utf8')).toContain('aria-describedby="description-');
  await save('long-description', '', 'act-emptied');
  await publish();
  expect(readFileSync(path.join(site, 'more/again.html'), 'utf8')).toBe(PAGES['more/again.html']);
});

test('a page that was given another caption meanwhile keeps it; ours stays in the history', async () => {
  const { id } = await placeOn('index.html');
  await save('caption', 'Ours', 'act-ours', { places: [id] });
  const file = path.join(site, 'index.html');
  writeFileSync(file, readFileSync(file, 'utf8').replace('Heights at Brannoch quay', 'Theirs'));
  await survey();
  expect((await placeOn('index.html')).caption).toBeNull();
  const rows = await (
    await database()
  )
    .select()
    .from(fieldText)
    .where(eq(fieldText.field, 'caption'))
    .orderBy(fieldText.id);
  expect(rows.slice(-2).map((r) => [r.text, r.by])).toEqual([
    ['Ours', 'person'],
    [null, 'page'],
  ]);
});

test('of two windows, the later replaces nothing', async () => {
  const { id } = await placeOn('index.html');
  expect(await save('title', 'First', 'act-a', { places: [id], base: 'Heights in metres' })).toEqual({
    theirs: null,
    places: 1,
  });
  expect(await save('title', 'Second', 'act-b', { places: [id], base: 'Heights in metres' })).toEqual({
    theirs: 'First',
    places: 0,
  });
  expect((await placeOn('index.html')).title).toBe('First');
});

test('files are renamed by a list and by redirects that servers read', async () => {
  await save('file-name', 'tides june.gif', 'act-name');
  await save('file-name', 'tides-june.gif', 'act-name');
  expect(await renamesOf(c)).toEqual([
    { pictureId, from: 'pic/IMG_2041.gif', to: 'pic/tides-june.gif', uses: 2, isTaken: false },
  ]);
  const text = async (name: string) => (await renameList(c, name)).bytes.toString();
  expect(await text('renames.csv')).toBe(
    'old address,new address,used in places\r\npic/IMG_2041.gif,pic/tides-june.gif,2\r\n',
  );
  expect(await text('redirects-apache.conf')).toBe('Redirect permanent /pic/IMG_2041.gif /pic/tides-june.gif\n');
  expect(await text('redirects-nginx.conf')).toBe('location = /pic/IMG_2041.gif { return 301 /pic/tides-june.gif; }\n');
  await save('file-name', 'IMG_2041.gif', 'act-name-back');
  expect(await renamesOf(c)).toEqual([]);
});

test('the note of the house style comes below drafted words, beside the credit, and goes with the words of a person', async () => {
  const { id } = await placeOn('index.html');
  const html = () => readFileSync(path.join(site, 'index.html'), 'utf8');
  const word = async (text: string, by: 'person' | 'drafter') =>
    saveWords({ collectionId: c.id, appearanceIds: [id], text, act: `act-${text}`, by });
  await publish();
  expect(html()).toContain('<p class="picture-credit"><small>Photo: Ann Roe</small></p>');
  c = { ...c, style: { 'house-style': { parameters: { draftNote: 'Alt text drafted & read' } } } };
  await saveHouseStyle(c.id, c.style, 'act-note');
  await word('High water by day', 'drafter');
  await publish();
  expect(html()).toContain('<p class="picture-credit"><small>Photo: Ann Roe, Alt text drafted &amp; read</small></p>');
  expect(await previewed(c)).toEqual([]);
  await showCreditLine(c.id, [id], false, 'act-no-credit');
  await publish();
  expect(html()).toContain('<p class="picture-credit"><small>Alt text drafted &amp; read</small></p>');
  await word('High water in June', 'person');
  await publish();
  expect(html()).toContain('alt="High water in June"');
  expect(html()).not.toContain('picture-credit');
});

test('without a note, or where a person wrote the words, the page says nothing of a machine', async () => {
  const { id } = await placeOn('more/again.html');
  const note = { 'house-style': { parameters: { draftNote: 'Drafted' } } };
  const parts = async (style: typeof c.style) =>
    (await previewed({ ...c, style })).flatMap((p) => p.changes.map((x) => x.part));
  await saveWords({ collectionId: c.id, appearanceIds: [id], text: 'Hochwasser', act: 'act-1', by: 'person' });
  expect(await parts(note)).toEqual(['attributes']);
  await saveWords({ collectionId: c.id, appearanceIds: [id], text: 'Flut', act: 'act-2', by: 'drafter' });
  expect(await parts({})).toEqual(['attributes']);
  expect(await parts(note)).toEqual(['attributes', 'credit']);
});
