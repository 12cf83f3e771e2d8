import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { and, eq } from 'drizzle-orm';
import { gif } from '../testing/site';
import type { Drafter, DraftRequest, DraftResult } from './drafter';

/** Drafters behind one seam: what each is given, what is kept, and that none is called inside a transaction. */
const folder = mkdtempSync(path.join(tmpdir(), 'detto-drafts-'));
process.env['DETTO_DATA'] = path.join(folder, 'data');
const site = path.join(folder, 'site');
mkdirSync(site);
const GIF = gif(300, 200);
writeFileSync(path.join(site, 'puffins-on-cliff.gif'), GIF);
writeFileSync(
  path.join(site, 'index.html'),
  '<html lang="en"><title>The Holm</title><h1>The Holm</h1><img src="puffins-on-cliff.gif"><img src="gone.gif">',
);
writeFileSync(path.join(site, 'de.html'), '<html lang="de"><title>Der Holm</title><img src="puffins-on-cliff.gif">');

await import('../db/schema');
const { closeDatabase, database } = await import('../db/database');
const { appearance, page, wording } = await import('../db/schema');
const { insertCollection } = await import('../catalogue/collections');
const { jobsIdle, startJobs, stopJobs } = await import('../jobs/pipeline');
const { startSurvey, surveyOver } = await import('../survey/surveys');
const { undoAct } = await import('../wordings/acts');
const { draftAppearances, draftFor } = await import('./drafts');
const { evidenceDrafter } = await import('./evidence-drafter');

let collection: string;
let places: { id: number; path: string; src: string | null }[];
beforeAll(async () => {
  startJobs(['survey', 'audit']);
  const c = await insertCollection({ name: 'Holm', kind: 'folder', root: site, maxPages: 9, maxDepth: 9 });
  collection = c.id;
  await surveyOver(await startSurvey(c.id));
  await jobsIdle();
  const db = await database();
  const rows = await db
    .select({ id: appearance.id, path: page.path, reading: appearance.reading })
    .from(appearance)
    .innerJoin(page, eq(page.id, appearance.pageId))
    .orderBy(page.path, appearance.position);
  places = rows.map(({ id, path, reading }) => ({ id, path, src: reading.markup.src }));
});
afterAll(async () => {
  await stopJobs();
  await closeDatabase();
  rmSync(folder, { recursive: true, force: true });
});

const at = (path: string, src = 'puffins-on-cliff.gif') => places.find((p) => p.path === path && p.src === src)!.id;
const drafts = async () => {
  const db = await database();
  return db
    .select({ appearanceId: wording.appearanceId, text: wording.text, evidence: wording.evidence })
    .from(wording)
    .where(and(eq(wording.collectionId, collection), eq(wording.state, 'draft')));
};

/** A drafter that notes what it is given. */
function recording(
  answer: (request: DraftRequest) => Partial<DraftResult> | Promise<Partial<DraftResult>>,
  needsPixels = false,
) {
  const given: DraftRequest[] = [];
  const drafter: Drafter = {
    id: 'recording',
    needsPixels,
    async draft(request) {
      given.push(request);
      return { text: null, evidence: [], missing: null, ...(await answer(request)) };
    },
  };
  return { drafter, given };
}

test('a drafter is given what is known, the language, and the file only where it needs it', async () => {
  const blind = recording(() => ({}));
  await draftFor(at('index.html'), blind.drafter);
  expect(blind.given[0]).toMatchObject({ language: 'en', pixels: null, known: { targetTitle: null, elsewhere: [] } });
  expect(blind.given[0]!.known.appearance.context.headings).toEqual(['The Holm']);
  const seeing = recording(() => ({}), true);
  await draftFor(at('de.html'), seeing.drafter);
  expect(seeing.given[0]!.language).toBe('de');
  expect(seeing.given[0]!.pixels!.equals(GIF)).toBe(true);
  await draftFor(at('index.html', 'gone.gif'), seeing.drafter);
  expect(seeing.given[1]!.pixels).toBeNull();
  expect(await draftFor(0, seeing.drafter)).toBeNull();
});

test('the evidence drafter answers without the picture', async () => {
  expect(evidenceDrafter.needsPixels).toBe(false);
  expect(await draftFor(at('index.html'))).toMatchObject({ text: 'Puffins on cliff' });
});

test('a drafter may use the database itself: it is called outside of any transaction', async () => {
  // The embedded database serves one transaction at a time; a drafter inside of one would wait for ever.
  const { drafter } = recording(async ({ language }) => {
    const db = await database();
    return db.transaction(async (tx) => {
      const [row] = await tx.select({ title: page.title }).from(page).where(eq(page.lang, language!));
      return { text: `Seen on ${row!.title}` };
    });
  });
  expect(await draftAppearances(collection, [at('index.html'), at('de.html')], 'act-drafts-1', drafter)).toBe(2);
  expect((await drafts()).map((d) => d.text).sort()).toEqual(['Seen on Der Holm', 'Seen on The Holm']);
});

test('a new draft takes the place of the one that waits, with what it was made from', async () => {
  const evidence = [{ from: 'heading' as const, text: 'The Holm' }];
  const { drafter } = recording(() => ({ text: 'Another', evidence, missing: { id: 'question.seen' } }));
  await draftAppearances(collection, [at('index.html')], 'act-drafts-2', drafter);
  const own = (await drafts()).filter((d) => d.appearanceId === at('index.html'));
  expect(own).toEqual([
    { appearanceId: at('index.html'), text: 'Another', evidence: { from: evidence, missing: { id: 'question.seen' } } },
  ]);
  // Undone, the one that it took the place of waits again.
  await undoAct(collection, 'act-drafts-2');
  expect((await drafts()).map((d) => d.text).sort()).toEqual(['Seen on Der Holm', 'Seen on The Holm']);
});

test('where a drafter fails or has nothing to say, the others are drafted all the same', async () => {
  const { drafter, given } = recording(({ language, known }) => {
    if (language === 'de') throw new Error('The service is away.');
    return { text: known.appearance.markup.src === 'gone.gif' ? '' : 'Puffins' };
  });
  const all = places.map((p) => p.id);
  expect(await draftAppearances(collection, all, 'act-drafts-3', drafter)).toBe(1);
  expect(given).toHaveLength(3);
  expect((await drafts()).find((d) => d.appearanceId === at('index.html'))!.text).toBe('Puffins');
});

test('what was drafted before it is stopped is kept, and nothing is asked after that', async () => {
  const stop = new AbortController();
  const { drafter, given } = recording(() => {
    stop.abort();
    return { text: 'Before the stop' };
  });
  const all = places.map((p) => p.id);
  expect(await draftAppearances(collection, all, 'act-drafts-4', drafter, stop.signal)).toBe(1);
  expect(given).toHaveLength(1);
});

test('places of another collection are left alone', async () => {
  const { drafter, given } = recording(() => ({ text: 'x' }));
  expect(await draftAppearances('other', [at('index.html')], 'act-drafts-5', drafter)).toBe(0);
  expect(given).toEqual([]);
});
