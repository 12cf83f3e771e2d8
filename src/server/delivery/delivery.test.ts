import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { eq } from 'drizzle-orm';
import { DOT } from '../testing/site';
import { unzip } from '../testing/unzip';

/** What goes back: what can be written, what is refused and why, and a patch that other people's tools apply. */
const folder = mkdtempSync(path.join(tmpdir(), 'detto-delivery-'));
process.env['DETTO_DATA'] = path.join(folder, 'data');
const site = path.join(folder, 'site');

const { insertCollection } = await import('../catalogue/collections');
const { closeDatabase, database } = await import('../db/database');
const { appearance, page } = await import('../db/schema');
const { startSurvey, surveyOver } = await import('../survey/surveys');
const { startJobs, stopJobs } = await import('../pipeline/pipeline');
const { saveWords } = await import('../wordings/wordings');
const { downloaded, previewed } = await import('../testing/delivery');
const { deliveriesOf } = await import('./deliveries');
const { fileFor } = await import('./file-for');

const PAGES = {
  'index.html': '<html lang="en">\r\n<title>Start</title>\r\n<p>We sail <img src=dot.gif title=Dot> daily.\r\n',
  'more/sails.html': '<html lang="en"><title>Sails</title><p style="background-image:url(../dot.gif)">Sails</p>',
  'template.html': '<html lang="en"><title>Card</title><img src="dot.gif" alt="{{ card.alt }}">',
  'still.html': '<html lang="en"><title>Still</title><img src="dot.gif" alt="A dot">',
};
let c: Awaited<ReturnType<typeof insertCollection>>;

beforeAll(async () => {
  for (const [name, html] of Object.entries(PAGES)) {
    mkdirSync(path.dirname(path.join(site, name)), { recursive: true });
    writeFileSync(path.join(site, name), html);
  }
  writeFileSync(path.join(site, 'dot.gif'), DOT);
  c = await insertCollection({ name: 'Delivered', kind: 'folder', root: site, maxPages: 100, maxDepth: 3 });
  startJobs();
  await surveyOver(await startSurvey(c.id));
  const rows = await (
    await database()
  )
    .select({ id: appearance.id, path: page.path })
    .from(appearance)
    .innerJoin(page, eq(page.id, appearance.pageId))
    .where(eq(appearance.collectionId, c.id));
  const chosen = rows.filter((r) => r.path !== 'still.html').map((r) => r.id);
  await saveWords({
    collectionId: c.id,
    appearanceIds: chosen,
    text: 'A “dot” & more',
    act: 'all at once',
    by: 'person',
  });
});
afterAll(async () => {
  await stopJobs();
  await closeDatabase();
  rmSync(folder, { recursive: true, force: true });
});

test('what can be written is shown as it will stand; what cannot, with the reason', async () => {
  const pages = new Map((await previewed(c)).map((p) => [p.path, p]));
  expect([...pages.keys()].sort()).toEqual(['index.html', 'more/sails.html', 'template.html']);
  expect(pages.get('index.html')).toMatchObject({
    leftOut: null,
    refusals: [],
    changes: [{ after: '<img src=dot.gif alt="A “dot” &amp; more" title=Dot>', heard: 'A “dot” & more' }],
  });
  for (const name of ['more/sails.html', 'template.html']) {
    expect(pages.get(name)).toMatchObject({ changes: [], leftOut: null });
    expect(pages.get(name)!.refusals).toHaveLength(1);
  }
});

test('git applies the diff, and gives the very bytes of the ZIP', async () => {
  const files = await unzip((await downloaded(c, 'zip')).bytes);
  expect([...files.keys()]).toEqual(['index.html']);
  const copy = mkdtempSync(path.join(folder, 'copy-'));
  writeFileSync(path.join(copy, 'index.html'), PAGES['index.html']);
  const applied = spawnSync('git', ['apply', '--whitespace=nowarn'], {
    cwd: copy,
    input: (await downloaded(c, 'diff')).bytes,
  });
  expect(applied.status).toBe(0);
  expect(readFileSync(path.join(copy, 'index.html')).equals(files.get('index.html')!)).toBe(true);
});

test('what was taken is remembered', async () => {
  expect(await deliveriesOf(c.id)).toMatchObject([
    { target: 'diff', state: 'done', pages: 1, changes: 1 },
    { target: 'zip', state: 'done', pages: 1, changes: 1 },
  ]);
  expect(await deliveriesOf('elsewhere')).toEqual([]);
});

test.each([
  ['fares/day.html', 'fares/day.html'],
  ['https://isle.example/', 'index.html'],
  ['https://isle.example/fares', 'fares.html'],
  ['https://isle.example/fares/', 'fares/index.html'],
  ['https://isle.example/a.php', 'a.php'],
  ['https://isle.example/list.html?page=2&by=name', 'list_page=2_by=name.html'],
  ['https://isle.example/caf%C3%A9', 'café.html'],
  ['https://isle.example/100%', '100%.html'],
  ['https://isle.example/%2e%2e/%2e%2e/etc/passwd', 'etc/passwd.html'],
  ['https://isle.example/..%2f..%2fetc/hosts.txt', 'etc/hosts.txt'],
  ['https://isle.example/a%5C..%5Cb', 'a_.._b.html'],
])('%s is kept in the ZIP as %s, never outside it', (address, file) => expect(fileFor(address)).toBe(file));
