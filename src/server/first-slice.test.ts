import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { unzip } from './testing/unzip';
import type { Collection } from './catalogue/collections';
import { testOfOne } from './testing/postgres';

/** The whole way on the real database: survey a folder, read findings, word, undo, deliver, survey again. */
let data: string;
let site: string;
let c: Collection;

const LATIN2 = Buffer.from('<meta charset="iso-8859-2"><p>\xe8e\xb9tina\r\n<IMG SRC="img/b.png">\r\n', 'latin1');

beforeAll(async () => {
  data = mkdtempSync(path.join(tmpdir(), 'detto-slice-'));
  site = path.join(data, 'site');
  process.env['DETTO_DATA'] = path.join(data, 'data');
  mkdirSync(path.join(site, 'img'), { recursive: true });
  const png = (colour: string) =>
    sharp(
      Buffer.from(
        `<svg xmlns="http://www.w3.org/2000/svg" width="40" height="30"><rect x="4" y="2" width="3" height="28"/><path d="M7 3q14-4 24 4l-4 8q-8-6-20-2z" fill="${colour}"/></svg>`,
      ),
    )
      .png()
      .toBuffer();
  writeFileSync(path.join(site, 'img/a.png'), await png('red'));
  writeFileSync(path.join(site, 'img/a-copy.png'), await png('red'));
  writeFileSync(path.join(site, 'img/b.png'), await png('blue'));
  writeFileSync(path.join(site, 'img/bad.png'), 'not a picture');
  writeFileSync(
    path.join(site, 'index.html'),
    '<html lang=en><title>Start</title><main><img src="img/a.png" alt="IMG_0001.png"><img src="img/a-copy.png" alt="Red flag"><a href="cz.html"><img src="img/b.png"></a><img src="img/bad.png" alt="Lost"></main>',
  );
  writeFileSync(path.join(site, 'cz.html'), LATIN2);
  const { insertCollection } = await import('./catalogue/collections');
  c = await insertCollection({ name: 'Test folder', kind: 'folder', root: site, maxPages: 100, maxDepth: 5 });
  await survey();
}, 60_000);

afterAll(async () => {
  const { stopJobs } = await import('./pipeline/pipeline');
  const { closeDatabase } = await import('./db/database');
  await stopJobs();
  await closeDatabase();
  rmSync(data, { recursive: true, force: true });
});

async function survey() {
  const { startSurvey, surveyOver } = await import('./survey/surveys');
  const { surveyProgress } = await import('./survey/survey-progress');
  const { startJobs } = await import('./pipeline/pipeline');
  startJobs();
  const id = await startSurvey(c.id);
  await surveyOver(id);
  return (await surveyProgress(id))!;
}

async function lines(view: Record<string, string> = {}) {
  const { galleyLines } = await import('./catalogue/lines');
  const { GalleyView } = await import('@/contract/galley');
  return (await galleyLines(c.id, GalleyView.parse(view), 0, 100)).lines;
}
const line = async (name: string) => (await lines()).find((l) => l.name === name)!;

async function placesOf(name: string): Promise<number[]> {
  const { placesOf } = await import('./wordings/targets');
  const { id } = await line(name);
  return (await placesOf(c.id, { kind: 'pictures', pictures: [id] })).map((p) => p.id);
}

test('pictures are one by content, with their findings, reach and facets', async () => {
  expect((await lines()).map((l) => l.name).sort()).toEqual(['a-copy.png', 'b.png', 'bad.png']);
  const red = await line('a-copy.png');
  expect(red).toMatchObject({ appearances: 2, reach: 1, width: 40, height: 30, type: 'image/png' });
  expect(red.notes.map((n) => n.rule).sort()).toEqual(['file-name']);
  expect((await line('b.png')).notes).toMatchObject([{ rule: 'no-alt', also: [{ rule: 'unnamed-control' }] }]);
  expect((await line('bad.png')).notes[0]!.message).toMatchObject({
    id: 'broken-source.broken',
    values: { reason: { id: 'broken.other' } },
  });
  expect((await lines({ rule: 'file-name' })).length).toBe(1);
  expect((await lines({ q: 'red FLAG' })).length).toBe(1);
  const { galleyFacets } = await import('./catalogue/facets');
  expect(await galleyFacets(c.id)).toMatchObject({ all: 3, missing: 1, appearances: 5, pages: 2 });
});

test('words are kept everywhere or here, findings follow, and one stroke undoes them', async () => {
  const { saveWords } = await import('./wordings/wordings');
  const { undoAct } = await import('./wordings/acts');
  const appearanceIds = await placesOf('a-copy.png');
  const keep = (text: string, act: string) => saveWords({ collectionId: c.id, appearanceIds, text, act, by: 'person' });
  await keep('Red', 'act-1');
  await keep('Red flag', 'act-1');
  expect((await line('a-copy.png')).notes).toEqual([]);
  expect((await line('a-copy.png')).heard).toBe('Red flag');
  expect(await undoAct(c.id, 'act-1')).toBe(2);
  expect((await line('a-copy.png')).notes.map((n) => n.rule).sort()).toEqual(['file-name']);
});

test('a draft is marked until it is taken, and never delivered', async () => {
  const { draftAppearances } = await import('./drafting/drafts');
  const { previewed } = await import('./testing/delivery');
  expect(await draftAppearances(c.id, await placesOf('a-copy.png'), 'act-2')).toBeGreaterThan(0);
  expect((await lines({ state: 'draft' })).map((l) => l.name)).toEqual(['a-copy.png']);
  expect(await previewed(c)).toEqual([]);
});

test('the changed pages differ in the attributes alone, and say the words', async () => {
  const { saveWords } = await import('./wordings/wordings');
  const { downloaded, previewed } = await import('./testing/delivery');
  await saveWords({
    collectionId: c.id,
    appearanceIds: await placesOf('b.png'),
    text: 'Česká vlajka ☂',
    act: 'act-3',
    by: 'person',
  });
  const preview = await previewed(c);
  expect(preview.map((p) => [p.path, p.changes.length, p.leftOut])).toEqual([
    ['cz.html', 1, null],
    ['index.html', 1, null],
  ]);
  expect(preview[0]!.changes[0]).toMatchObject({
    after: '<IMG SRC="img/b.png" ALT="Česká vlajka ☂">',
    heard: 'Česká vlajka ☂',
  });
  const files = await unzip((await downloaded(c, 'zip')).bytes);
  const words = Buffer.from(' ALT="\xc8esk\xe1 vlajka &#9730;"', 'latin1');
  const at = LATIN2.indexOf('"img/b.png"') + '"img/b.png"'.length;
  expect(files.get('cz.html')!.equals(Buffer.concat([LATIN2.subarray(0, at), words, LATIN2.subarray(at)]))).toBe(true);
  expect([...files.keys()].sort()).toEqual(['cz.html', 'index.html']);
  expect((await downloaded(c, 'diff')).bytes.toString('latin1')).toContain('+<IMG SRC="img/b.png" ALT="\xc8esk\xe1');
});

test('a page that changed since the survey is reported and left out; surveying again keeps the words', async () => {
  const { previewed } = await import('./testing/delivery');
  const file = path.join(site, 'index.html');
  writeFileSync(file, `<!-- new -->${readFileSync(file, 'utf8')}`);
  const listed = (await previewed(c)).find((p) => p.path === 'index.html')!;
  expect(listed.leftOut).toEqual({ id: 'left-out.changed' });
  expect((await survey()).state).toBe('done');
  const after = await previewed(c);
  expect(after.find((p) => p.path === 'index.html')).toMatchObject({
    leftOut: null,
    changes: [{ heard: 'Česká vlajka ☂' }],
  });
});

testOfOne('a second process on the same data is refused in words', async () => {
  const { lockFolder } = await import('./db/lock');
  await expect(lockFolder(path.join(data, 'data', 'database'))).rejects.toThrow(/in use by process \d+/);
});
