import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { and, eq, sql } from 'drizzle-orm';
import { docx, pptx } from '@/core/formats/ooxml';
import { inline, paragraph, slidesOf, text, wordFiles, wordOf, zipOf } from '@/core/formats/testing/packages';
import { shown } from '@/core/formats/testing/round-trip';
import { unzip } from '../testing/unzip';

/** Documents from the survey to the delivery, in the database: pages of a file, their order, what comes back, what does not. */
const folder = mkdtempSync(path.join(tmpdir(), 'detto-documents-'));
process.env['DETTO_DATA'] = path.join(folder, 'data');
const root = path.join(folder, 'set');

const { saveHouseStyle } = await import('../audit/house-style');
const { collectionById, insertCollection } = await import('../catalogue/collections');
const { foundPage } = await import('../catalogue/page-view');
const { pageOrder } = await import('../catalogue/page-order');
const { closeDatabase, database } = await import('../db/database');
const { appearance, finding, page, visit } = await import('../db/schema');
const { deskPicture } = await import('../desk/desk');
const { startSurvey, surveyOver } = await import('../survey/surveys');
const { startJobs, stopJobs } = await import('../pipeline/pipeline');
const { saveWords } = await import('../wordings/wordings');
const { delivered, downloaded, previewed } = await import('../testing/delivery');
const { deliveryById } = await import('./deliveries');

const PIC = (id: number, words = '') =>
  `<p:pic><p:nvPicPr><p:cNvPr id="${id}" name="P" ${words}/></p:nvPicPr><p:blipFill><a:blip r:embed="rId1"/></p:blipFill><p:spPr><a:xfrm><a:off x="0" y="0"/><a:ext cx="914400" cy="685800"/></a:xfrm></p:spPr></p:pic>`;
const GROUP = `<p:grpSp><p:nvGrpSpPr><p:cNvPr id="9" name="G"/></p:nvGrpSpPr><p:grpSpPr/>${PIC(10)}</p:grpSp>`;
const LEAFLET = paragraph(text('The ferry leaves at ten.')) + paragraph(inline('<wp:docPr id="1" name="A"/>'));
let c: Awaited<ReturnType<typeof insertCollection>>;

const rows = async () =>
  (await database())
    .select({
      id: appearance.id,
      pictureId: appearance.pictureId,
      path: page.path,
      place: appearance.place,
      state: appearance.state,
    })
    .from(appearance)
    .innerJoin(page, eq(page.id, appearance.pageId))
    .where(and(eq(appearance.collectionId, c.id), eq(appearance.gone, false)))
    .orderBy(pageOrder, appearance.position);
const idAt = async (at: string, place: string) => (await rows()).find((r) => r.path === at && r.place === place)!.id;
const word = (id: number, words: string) =>
  saveWords({ collectionId: c.id, appearanceIds: [id], text: words, act: `act ${id} ${words}`, by: 'person' });
const survey = async () => surveyOver(await startSurvey(c.id));

beforeAll(async () => {
  mkdirSync(root, { recursive: true });
  writeFileSync(path.join(root, 'leaflet.docx'), await wordOf(LEAFLET));
  writeFileSync(path.join(root, 'signed.docx'), await zipOf({ ...wordFiles(LEAFLET), '_xmlsignatures/s.xml': '<a/>' }));
  writeFileSync(path.join(root, 'talk.pptx'), await slidesOf([...Array.from({ length: 11 }, () => PIC(2)), GROUP]));
  writeFileSync(path.join(root, 'old.xls'), 'x');
  writeFileSync(path.join(root, 'note.md'), '---\nhero: dot.png\n---\n# Note\n\n![](dot.png)\n');
  c = await insertCollection({ name: 'Documents', kind: 'folder', root, maxPages: 100, maxDepth: 3 });
  startJobs();
  await survey();
});
afterAll(async () => {
  await stopJobs();
  await closeDatabase();
  rmSync(folder, { recursive: true, force: true });
});

test('each document is one line of the survey log, each slide a page in its order', async () => {
  const db = await database();
  const visits = await db
    .select({ address: visit.address, state: visit.state, reason: visit.reason })
    .from(visit)
    .where(eq(visit.kind, 'page'));
  expect(visits.map((v) => [v.address, v.state, v.reason?.id ?? null]).sort()).toEqual([
    ['leaflet.docx', 'done', null],
    ['note.md', 'done', null],
    ['old.xls', 'skipped', 'document.old'],
    ['signed.docx', 'done', 'document.signed'],
    ['talk.pptx', 'done', null],
  ]);
  const slides = (await rows()).filter((r) => r.path.startsWith('talk'));
  expect(slides.map((r) => r.path.split('=')[1]).slice(0, 12)).toEqual([
    '1',
    '2',
    '3',
    '4',
    '5',
    '6',
    '7',
    '8',
    '9',
    '10',
    '11',
    '12',
  ]);
});

test('charts, groups and their parts are judged together, and again once one is worded', async () => {
  const db = await database();
  const found = async () =>
    (
      await db
        .select({ rule: finding.rule, place: appearance.place })
        .from(finding)
        .innerJoin(appearance, eq(appearance.id, finding.appearanceId))
        .where(sql`${appearance.place} like '%group%'`)
    ).map((f) => `${f.rule} ${f.place}`);
  expect((await found()).filter((f) => /^(?:object|group)-/.test(f))).toEqual(['object-unnamed slide > group 9']);
  await word(await idAt('talk.pptx#slide=12', 'slide > group 9 > picture 10'), 'A puffin');
  expect((await found()).filter((f) => /^(?:object|group)-/.test(f))).toEqual(['group-words slide > group 9']);
});

test('the Desk knows the format, the place and what cannot be written', async () => {
  const id = await idAt('leaflet.docx', 'body > picture 1');
  const { pictureId } = (await rows()).find((r) => r.id === id)!;
  const data = (await deskPicture(c, pictureId, id))!;
  const [place] = data.places;
  expect(place!.page).toMatchObject({ path: 'leaflet.docx', format: 'docx' });
  expect([place!.caption.refused?.id, place!.title.refused?.id]).toEqual([
    'refusal.document-caption',
    'refusal.document-title',
  ]);
});

test('the delivery goes by document: words, part and place, and one file for all of its slides', async () => {
  await word(await idAt('talk.pptx#slide=2', 'slide > picture 2'), 'Second');
  await word(await idAt('talk.pptx#slide=10', 'slide > picture 2'), '');
  await word(await idAt('leaflet.docx', 'body > picture 1'), 'The quay & “boats”');
  await word(await idAt('signed.docx', 'body > picture 1'), 'Never written');
  const pages = new Map((await previewed(c)).map((p) => [p.path, p]));
  expect([...pages.keys()]).toEqual(['leaflet.docx', 'signed.docx', 'talk.pptx']);
  expect(pages.get('talk.pptx')).toMatchObject({ format: 'pptx', leftOut: null, waiting: 3, refusals: [] });
  const [second] = pages.get('talk.pptx')!.changes;
  expect(second).toMatchObject({
    heard: 'Second',
    words: { before: '', after: 'Second' },
    file: 'ppt/slides/slide2.xml',
    where: { fragment: 'slide=2', spot: { id: 'spot.top-left' }, place: 'slide > picture 2' },
  });
  expect(pages.get('signed.docx')).toMatchObject({ leftOut: { id: 'document.signed' }, changes: [], waiting: 1 });
  const files = await unzip((await downloaded(c, 'zip')).bytes);
  expect([...files.keys()].sort()).toEqual(['leaflet.docx', 'talk.pptx']);
  const slides = await shown(pptx, files.get('talk.pptx')!);
  expect([slides['slide=2'], slides['slide=10'], slides['slide=3']]).toEqual([
    ['slide > picture 2: described “Second”'],
    ['slide > picture 2: decorative “”'],
    ['slide > picture 2: missing “”'],
  ]);
  // No line of a document can be read: the diff has none of it.
  expect((await downloaded(c, 'diff')).bytes.length).toBe(0);
  const { state, reason, file } = await deliveryById(c.id, await delivered(c, 'document'));
  expect([state, reason?.id, file]).toEqual(['failed', 'delivery.several', null]);
});

test('words stay with their places when the document is changed and surveyed again, and are live once they are in it', async () => {
  const moved =
    paragraph(text('A new paragraph.')) + LEAFLET + paragraph(inline('<wp:docPr id="7" name="New" descr="New"/>'));
  writeFileSync(path.join(root, 'leaflet.docx'), await wordOf(moved));
  expect((await previewed(c)).find((p) => p.path === 'leaflet.docx')!.leftOut).toEqual({
    id: 'left-out.changed',
  });
  await survey();
  const change = (await previewed(c)).find((p) => p.path === 'leaflet.docx')!;
  expect([change.leftOut, change.changes.map((x) => x.heard)]).toEqual([null, ['The quay & “boats”']]);
  const files = await unzip((await downloaded(c, 'zip')).bytes);
  for (const [name, bytes] of files) writeFileSync(path.join(root, name), bytes);
  expect((await shown(docx, readFileSync(path.join(root, 'leaflet.docx'))))['']).toEqual([
    'body > picture 1: described “The quay & “boats””',
    'body > picture 7: described “New”',
  ]);
  await survey();
  expect((await previewed(c)).map((p) => p.path)).toEqual(['signed.docx']);
});

test('Markdown is read by the keys of the house style, unchanged files too, and written by those that it was read with', async () => {
  const keysOf = (words: string) => ({
    'house-style': { parameters: { frontMatter: [{ picture: 'hero', words }] } },
  });
  const restyle = async (words: string) => {
    await saveHouseStyle(c.id, keysOf(words), `style ${words}`);
    c = (await collectionById(c.id))!;
  };
  const places = async () => (await rows()).filter((r) => r.path === 'note.md').map((r) => r.place);
  expect(await places()).toEqual(['paragraph > picture']);
  await restyle('heroAlt');
  await survey();
  expect(await places()).toEqual(['front matter > hero', 'paragraph > picture']);
  await word(await idAt('note.md', 'paragraph > picture'), 'A dot');
  await word(await idAt('note.md', 'front matter > hero'), 'The hero');
  // Set after the survey: the places that were worded are still those that were read.
  await restyle('hero_text');
  await saveHouseStyle(c.id, {}, 'style back');
  c = (await collectionById(c.id))!;
  const note = (await unzip((await downloaded(c, 'zip')).bytes)).get('note.md')!;
  expect(note.toString()).toBe('---\nhero: dot.png\nheroAlt: "The hero"\n---\n# Note\n\n![A dot](dot.png)\n');
  await survey();
  expect(await places()).toEqual(['paragraph > picture']);
});

test('the page of a place is its text where nothing draws it, with nothing that runs', async () => {
  const path_ = process.env['PATH'];
  process.env['PATH'] = '/nowhere';
  try {
    const answer = await foundPage(c.id, await idAt('leaflet.docx', 'body > picture 1'), {
      notDrawn: 'Install it.',
      here: 'Here:',
    });
    const html = await answer.text();
    expect(answer.headers.get('content-security-policy')).toContain("sandbox allow-same-origin; default-src 'none'");
    expect(html).toContain('Install it.');
    expect(html).toContain('The ferry leaves at ten.');
    expect(html).toContain(`/found/${c.id}/`);
  } finally {
    process.env['PATH'] = path_;
  }
  expect((await foundPage(c.id, 999_999, { notDrawn: '', here: '' })).status).toBe(404);
});
