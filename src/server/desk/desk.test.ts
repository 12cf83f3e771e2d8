import { existsSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { jest } from '@jest/globals';
import { asc, eq, sql } from 'drizzle-orm';
import sharp from 'sharp';
import { strings } from '@/ui/strings';
import { GalleyView } from '@/contract/galley';

jest.setTimeout(240_000);

/** What Galley, Desk and shelf show of one small site, and what a person does there. */
const folder = mkdtempSync(path.join(tmpdir(), 'detto-desk-'));
process.env['DETTO_DATA'] = path.join(folder, 'data');

const { insertCollection, collectionById, removeCollection, shelf, shelfLine, countsOf, lastSurveyOf } =
  await import('../catalogue/collections');
const { addCollection, changeLimits } = await import('../intake/add-collection');
const { closeDatabase, database } = await import('../db/database');
const { fieldText, picture } = await import('../db/schema');
const { startSurvey } = await import('../survey/surveys');
const { jobsIdle, startJobs, stopJobs } = await import('../pipeline/pipeline');
const { placesOf } = await import('../wordings/targets');
const { saveWords, settlePurpose } = await import('../wordings/wordings');
const { undoAct } = await import('../wordings/acts');
const { saveFieldText } = await import('../wordings/field-texts');
const LONG = { field: 'long-description' as const, places: [] };
const { recordCredit } = await import('../catalogue/credit');
const { deskPicture } = await import('./desk');
const { galleyFacets } = await import('../catalogue/facets');
const { galleyLines } = await import('../catalogue/lines');
const { conditions, facetChoices, firstOf, order, queueAt } = await import('../catalogue/views');

const svg = (content: string) =>
  Buffer.from(`<svg xmlns="http://www.w3.org/2000/svg" width="300" height="200">${content}</svg>`);
const quay = svg(
  '<rect width="300" height="200" fill="#9cf"/><rect y="120" width="300" height="80" fill="#247"/><rect x="60" y="90" width="120" height="50" fill="#c22"/>',
);
const cave = svg(
  '<rect width="300" height="200" fill="#321"/><circle cx="150" cy="100" r="80" fill="#640"/><circle cx="160" cy="90" r="30" fill="#fb4"/>',
);
const chart = svg(
  '<rect width="300" height="200" fill="#fff"/><path d="M20 180h260M20 180v-160" stroke="#000"/><rect x="40" y="80" width="40" height="100" fill="#28c"/><rect x="110" y="40" width="40" height="140" fill="#28c"/><rect x="180" y="120" width="40" height="60" fill="#28c"/>',
);

const PAGES = {
  'index.html': `<html lang="en"><title>Start – Isle</title><main><h1>Start</h1>
    <p>We sail daily.</p><img src="wide.png" srcset="wide.png 1200w, narrow.png 400w" alt="The ferry at the quay">
    <p>Then the lamps.</p><a href="lamps.html"><img src="lamp.png"></a></main>`,
  'lamps.html': `<html lang="en"><title>Lamps – Isle</title><main><h1>Lamps</h1><p>Ours burn oil.</p>
    <img src="lamp.png" alt=""><p>How many burnt, by month:</p><img src="chart.png" alt="Lamps by month"></main>`,
};

let id: string;

beforeAll(async () => {
  const site = path.join(folder, 'site');
  mkdirSync(site);
  const files = { 'wide.png': quay, 'narrow.png': cave, 'lamp.png': cave, 'chart.png': chart };
  for (const [name, drawing] of Object.entries(files)) {
    const size = name === 'narrow.png' ? 150 : 300;
    writeFileSync(path.join(site, name), await sharp(drawing).resize(size).png().toBuffer());
  }
  for (const [name, html] of Object.entries(PAGES)) writeFileSync(path.join(site, name), html);
  const c = await insertCollection({ name: 'Isle', kind: 'folder', root: site, maxPages: 100, maxDepth: 3 });
  id = c.id;
  startJobs();
  await startSurvey(id);
  await jobsIdle();
});
afterAll(async () => {
  await stopJobs();
  await closeDatabase();
  rmSync(folder, { recursive: true, force: true });
});

const pictureNamed = async (name: string) => {
  const rows = await (
    await database()
  )
    .select()
    .from(picture)
    .where(eq(picture.collectionId, id))
    .orderBy(asc(picture.id));
  return rows.find((r) => r.src?.endsWith(name))!.id;
};
const seriesOf = async (name: string) => {
  const db = await database();
  const [row] = await db
    .select({ similarGroup: picture.similarGroup })
    .from(picture)
    .where(eq(picture.id, await pictureNamed(name)));
  return row!.similarGroup;
};
const desk = async (name: string, place: number | null = null) =>
  (await deskPicture((await collectionById(id))!, await pictureNamed(name), place))!;
const view = (asked: Partial<GalleyView> = {}) => GalleyView.parse(asked);
const linesOf = async (asked: Partial<GalleyView> = {}) => (await galleyLines(id, view(asked), 0, 50)).lines;
const rulesOf = (d: Awaited<ReturnType<typeof desk>>) => d.places[0]!.findings.map((f) => f.rule);

describe('the Galley', () => {
  test('shows a line for each picture that stands on a page, by what is asked for', async () => {
    const [furthest, ...others] = (await linesOf({ sort: 'reach' })).map((l) => l.name);
    expect([furthest, ...others.sort()]).toEqual(['lamp.png', 'chart.png', 'wide.png']);
    expect((await linesOf({ state: 'missing' })).map((l) => [l.name, l.reach, l.state, l.places])).toEqual([
      ['lamp.png', 2, 'missing', 1],
    ]);
    expect((await linesOf({ q: 'MONTH lamps' })).map((l) => l.name)).toEqual(['chart.png']);
    expect(await linesOf({ q: '100%' })).toEqual([]);
    expect((await linesOf({ sort: 'length' }))[0]!.heard).toBe('The ferry at the quay');
    expect(await galleyFacets(id)).toMatchObject({
      ...{ all: 3, missing: 1, described: 1, doubtful: 1, decorative: 0, todo: 2 },
      ...{ appearances: 4, pages: 2 },
    });
  });

  test('says everything that a picture says, in how many places', async () => {
    const [lamp, chart] = await Promise.all(
      ['lamp.png', 'chart.png'].map(async (name) => (await linesOf()).find((l) => l.name === name)!),
    );
    expect(lamp).toMatchObject({
      ...{ state: 'missing', places: 1, textsTotal: 2 },
      texts: [{ state: 'decorative', heard: '', places: 1 }],
    });
    expect(chart).toMatchObject({ places: 1, texts: [], textsTotal: 1 });
  });

  test('filters by whether one rule finds something, several do, or none', async () => {
    const named = async (findings: GalleyView['findings']) => (await linesOf({ findings })).map((l) => l.name).sort();
    const counted = (await facetChoices(id, view(), 'findings')).map((c) => [c.value, c.pictures]);
    expect(counted).toEqual([
      ['none', (await named('none')).length],
      ['one', (await named('one')).length],
      ['several', (await named('several')).length],
    ]);
    expect([...(await named('none')), ...(await named('one')), ...(await named('several'))].sort()).toEqual([
      'chart.png',
      'lamp.png',
      'wide.png',
    ]);
    for (const l of await linesOf({ findings: 'several' })) expect(l.notes.length).toBeGreaterThan(1);
    for (const l of await linesOf({ findings: 'one' })) expect(l.notes).toHaveLength(1);
  });

  test.each(['first', 'alike', 'reach', 'weight', 'length', 'place'] as const)(
    'sorted by %s, windows from the start and from the end make up the whole list',
    async (sort) => {
      const whole = (await linesOf({ sort })).map((l) => l.id);
      expect(whole).toHaveLength(3);
      const windows = [0, 1, 2, 3].map((offset) => galleyLines(id, view({ sort }), offset, 1));
      const each = await Promise.all(windows);
      expect(each.flatMap(({ lines }) => lines.map((l) => l.id))).toEqual(whole);
      expect(each.map(({ total }) => total)).toEqual([3, 3, 3, 3]);
    },
  );

  test.each(['first', 'reach', 'weight', 'length'] as const)(
    'an index has the pictures in order, sorted by %s, from either end',
    async (sort) => {
      const db = await database();
      for (const backwards of [false, true]) {
        const by = sql.join(order(view({ sort }), backwards), sql`, `);
        const { rows } = await db.transaction(async (tx) => {
          // So few rows are else sorted, which is quicker; where an index does not fit, they are sorted all the same.
          await tx.execute(sql`set local enable_sort = off`);
          await tx.execute(sql`set local enable_seqscan = off`);
          return tx.execute(
            sql`explain select ${picture.id} from ${picture} where ${conditions(id, view({ sort }))} order by ${by} limit 10`,
          );
        });
        const plan = JSON.stringify(rows);
        expect(plan).toMatch(/Index (?:Only )?Scan/);
        expect(plan).not.toMatch(/Sort/);
      }
    },
  );

  test('a line shows the gravest finding first, once for each rule, with its number of places', async () => {
    const [lamp] = await linesOf({ state: 'missing' });
    expect(lamp!.notes[0]).toMatchObject({ rule: 'no-alt', outcome: 'failed', places: 1 });
    expect(new Set(lamp!.notes.map((n) => n.rule)).size).toBe(lamp!.notes.length);
  });

  test('another file among the candidates, which shows something else, is reported', async () => {
    const [wide] = await linesOf({ rule: 'variant-clash' });
    expect(wide).toMatchObject({ name: 'wide.png' });
    expect(strings.message(wide!.notes.find((n) => n.rule === 'variant-clash')!.message)).toBe(
      'Some screens show “narrow.png” instead, which looks like a different picture; both have the alt text “The ferry at the quay”.',
    );
  });

  test('stepping through keeps the order, and the place of what the view shows no more', async () => {
    const asked = view({ sort: 'reach' });
    const [lamp, wide, last] = await linesOf({ sort: 'reach' });
    expect(await firstOf(id, asked)).toBe(lamp!.id);
    const ids = [lamp!.id, wide!.id, last!.id];
    expect(await queueAt(id, asked, wide!.id)).toEqual({ ids, isWhole: true });
    expect(await queueAt(id, asked, lamp!.id)).toEqual({ ids, isWhole: true });
    expect(await queueAt(id, view({ state: 'missing', sort: 'reach' }), wide!.id)).toEqual({
      ids: [lamp!.id, wide!.id],
      isWhole: true,
    });
    expect(await firstOf(id, view({ q: 'nothing of the kind' }))).toBeNull();
  });
});

describe('the Desk', () => {
  test('shows the unsaid place first, or the one that is asked for, each with its page and target', async () => {
    const lamp = await desk('lamp.png');
    expect(lamp.places.map((p) => [p.pageName, p.state, p.targetTitle])).toEqual([
      ['Start', 'missing', 'Lamps – Isle'],
      ['Lamps', 'decorative', null],
    ]);
    expect((await desk('lamp.png', lamp.places[1]!.id)).places[0]!.pageName).toBe('Lamps');
    expect(lamp.addresses).toEqual(expect.arrayContaining(['lamp.png']));
    expect(lamp.picture).toMatchObject({ width: 300, height: 200, broken: null });
    expect(await deskPicture((await collectionById(id))!, 999_999, null)).toBeNull();
  });

  test('candidates that stand on no page of their own are no look-alikes that wait for words', async () => {
    const { similar: alike } = await desk('lamp.png');
    // The narrow candidate is the lamp, only smaller.
    expect([await seriesOf('narrow.png'), await seriesOf('lamp.png')]).toEqual([null, null]);
    expect(alike).toBeNull();
    expect((await desk('wide.png')).similar).toBeNull();
  });

  test('a settled purpose changes what is found; a long description is reported, kept, replaced and taken back', async () => {
    const before = await desk('chart.png');
    const place = before.places[0]!;
    await settlePurpose(id, [place.id], 'complex', 'purpose-act-1');
    expect((await desk('chart.png')).places[0]).toMatchObject({ purpose: 'complex', purposeSettled: true });
    expect(rulesOf(await desk('chart.png'))).toContain('needs-long-description');

    const chartId = await pictureNamed('chart.png');
    const keep = (text: string, act: string) =>
      saveFieldText({ ...LONG, collectionId: id, pictureId: chartId, text, act });
    await keep('## Lamps', 'first act');
    await keep('## Lamps\n\n- May: 5', 'first act');
    await keep('May: 5, June: 7', 'second act');
    const told = await desk('chart.png');
    expect(told.longDescription.text).toBe('May: 5, June: 7');
    expect(told.longDescription.history.map((h) => [h.text, h.state])).toEqual([
      ['May: 5, June: 7', 'accepted'],
      ['## Lamps\n\n- May: 5', 'accepted'],
    ]);
    // It goes into the page with the next delivery, as alt texts do.
    expect(rulesOf(told)).not.toContain('needs-long-description');
    expect(told.longDescription).toMatchObject({ places: 1, refused: null, placement: { stand: 'details' } });

    expect(await undoAct(id, 'second act')).toBe(1);
    expect((await desk('chart.png')).longDescription.text).toBe('## Lamps\n\n- May: 5');
    await keep('', 'third act');
    const emptied = await desk('chart.png');
    expect(emptied.longDescription.text).toBe('');
    expect(rulesOf(emptied)).toContain('needs-long-description');

    // Two windows: the later replaces nothing, and stays in the history.
    const from = async (text: string, act: string, base: string) =>
      (await saveFieldText({ ...LONG, collectionId: id, pictureId: chartId, text, act, base })).theirs;
    expect(await from('First', 'window a', '')).toBeNull();
    expect(await from('Second', 'window b', '')).toBe('First');
    expect(await from('First, and more', 'window a', '')).toBeNull();
    const both = await desk('chart.png');
    expect(both.longDescription.text).toBe('First, and more');
    expect(both.longDescription.history.slice(0, 2).map((h) => [h.text, h.state])).toEqual([
      ['First, and more', 'accepted'],
      ['Second', 'undone'],
    ]);
    expect(await from('Second', 'window b', 'First, and more')).toBeNull();
    expect((await desk('chart.png')).longDescription.text).toBe('Second');
    // What the same window has saved since it fetched the text is its own.
    const again = { ...LONG, collectionId: id, pictureId: chartId, text: 'Third', act: 'window b2', base: 'First' };
    expect((await saveFieldText({ ...again, after: ['window b'] })).theirs).toBeNull();
    expect(await from('', 'last act', 'Third')).toBeNull();
  });

  test('a long description of a picture of another collection is not kept', async () => {
    const rows = async () => (await (await database()).select().from(fieldText)).length;
    const count = await rows();
    await saveFieldText({
      ...LONG,
      collectionId: 'elsewhere',
      pictureId: await pictureNamed('chart.png'),
      text: 'x',
      act: 'foreign act',
    });
    expect(await rows()).toBe(count);
  });

  test('a credit is recorded, and removed when it is emptied', async () => {
    const lamp = await pictureNamed('lamp.png');
    await recordCredit(id, lamp, { credit: 'Ann Rendall', licence: 'CC BY 4.0', source: '' }, 'credit-act-1');
    expect((await desk('lamp.png')).credit).toEqual({ credit: 'Ann Rendall', licence: 'CC BY 4.0', source: '' });
    await recordCredit(id, lamp, { credit: '', licence: '', source: '' }, 'credit-act-2');
    const emptied = await desk('lamp.png');
    expect(emptied.credit).toEqual({ credit: '', licence: '', source: '' });
    await undoAct(id, 'credit-act-2');
    expect((await desk('lamp.png')).creditHistory.map((h) => [h.credit.credit, h.isUndone])).toEqual([
      ['', true],
      ['Ann Rendall', false],
    ]);
  });

  test('words go where they are meant for, and the history says who wrote them', async () => {
    const lamp = await pictureNamed('lamp.png');
    const places = await placesOf(id, { kind: 'pictures', pictures: [lamp] });
    expect(places.map((p) => [p.state, p.namesControl]).sort()).toEqual([
      ['decorative', false],
      ['missing', true],
    ]);
    const linked = places.find((p) => p.namesControl)!;
    expect(await placesOf(id, { kind: 'noted', picture: lamp, rule: 'no-alt' })).toEqual([linked]);
    expect(await placesOf('elsewhere', { kind: 'pictures', pictures: [lamp] })).toEqual([]);
    const kept = { collectionId: id, appearanceIds: [linked.id], act: 'the words', by: 'person' as const };
    await saveWords({ ...kept, text: 'Our lamps' });
    const [shown] = (await desk('lamp.png', linked.id)).places;
    expect(shown).toMatchObject({ heard: 'Our lamps', state: 'described', worded: true });
    expect(shown!.history.map((h) => [h.text, h.by, h.state])).toEqual([['Our lamps', 'person', 'accepted']]);
    expect((await countsOf(id)).delivery).toBe(1);
    const silent = places.find((p) => !p.namesControl)!;
    await saveWords({ ...kept, appearanceIds: [silent.id], act: 'other words', text: 'Oil lamps' });
    // A line shows the text that was searched for.
    const found = async (q: string) =>
      (await linesOf({ q })).map((l) => [l.heard, ...l.texts.map((t) => `${t.heard} ${t.places}`)]);
    expect(await found('OUR lamps')).toEqual([['Our lamps', 'Oil lamps 1']]);
    expect(await found('oil')).toEqual([['Oil lamps', 'Our lamps 1']]);
    await undoAct(id, 'other words');
    await undoAct(id, 'the words');
    expect((await desk('lamp.png', linked.id)).places[0]).toMatchObject({ state: 'missing', worded: false });
  });
});

describe('the shelf', () => {
  test('counts pictures by the worst of their places', async () => {
    const c = (await collectionById(id))!;
    const line = await shelfLine(c);
    expect(line).toMatchObject({ pages: 2, pictures: 3, missing: 1, isAnalysing: false, survey: { state: 'done' } });
    expect(line.described + line.decorative + line.missing + line.doubtful).toBe(line.pictures);
    expect((await shelf()).map((l) => l.id)).toEqual([id]);
    expect(await countsOf(id)).toMatchObject({ pictures: 3, appearances: 4, pages: 2, conflicts: 0 });
    expect(await lastSurveyOf(id)).toMatchObject({ state: 'done' });
  });

  test('two collections of one name have addresses of their own; taken off, all that was theirs is gone', async () => {
    const root = path.join(folder, 'site');
    const again = await insertCollection({ name: 'Isle', kind: 'folder', root, maxPages: 10, maxDepth: 1 });
    expect(again.id).toMatch(/^isle-[0-9a-f]{6}$/);
    expect((await insertCollection({ name: '灯台', kind: 'folder', root, maxPages: 1, maxDepth: 1 })).id).toBe(
      'collection',
    );
    await removeCollection(again.id);
    await removeCollection('collection');
    expect(await collectionById(again.id)).toBeNull();
    expect((await shelf()).map((l) => l.id)).toEqual([id]);
    expect(existsSync(root)).toBe(true);
  });

  test('what a survey goes by is changed later, and where it begins is not; what a site is reported stays sealed', async () => {
    const c = await insertCollection({
      name: 'Site',
      kind: 'site',
      root: 'https://isle.example/',
      maxPages: 50,
      maxDepth: 2,
      scope: { addresses: ['https://isle.example/b'], obeyRobots: false },
    });
    const now = async () => (await collectionById(c.id))!;
    await changeLimits(await now(), {
      maxPages: 7,
      scope: { exclude: ['/old/*'], addresses: ['https://elsewhere.example/'] },
      access: { user: 'ann', password: 'secret' },
    });
    expect(await now()).toMatchObject({ root: c.root, maxPages: 7, maxDepth: 2 });
    expect((await now()).scope).toMatchObject({
      addresses: ['https://isle.example/b'],
      exclude: ['/old/*'],
      obeyRobots: true,
    });
    const { access } = await now();
    expect(access).not.toContain('secret');
    await changeLimits(await now(), { scope: {} });
    expect((await now()).access).toBe(access);
    await changeLimits(await now(), { scope: {}, forgetAccess: true });
    expect((await now()).access).toBeNull();
    await expect(changeLimits(await now(), { maxPages: 0, scope: {} })).rejects.toThrow();
    await expect(changeLimits((await collectionById(id))!, { scope: {} })).rejects.toThrow('Only the survey of a site');
    await removeCollection(c.id);
  });

  test('what cannot be surveyed is refused in words, and put on no shelf', async () => {
    const refused = (asked: unknown) =>
      addCollection(asked).then(
        () => 'begun',
        (e: Error) => e.message,
      );
    expect(await refused({ kind: 'folder', where: path.join(folder, 'nowhere') })).toMatch(/nowhere/);
    expect(await refused({ kind: 'site', where: 'not an address' })).not.toBe('begun');
    expect(await refused({ kind: 'ship', where: folder })).not.toBe('begun');
    expect((await shelf()).map((l) => l.id)).toEqual([id]);
  });
});
