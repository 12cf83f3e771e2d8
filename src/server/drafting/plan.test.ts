import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { and, eq, sql } from 'drizzle-orm';
import sharp from 'sharp';
import { DEMO_KEY, DEMO_MODEL, draftingService } from '../../../demo/drafting-service';

/** What is drafted beside ordinary rounds: new pictures after a survey, look-alikes once the best is worded, texts of a table. */
const folder = mkdtempSync(path.join(tmpdir(), 'detto-plan-'));
const service = draftingService(null);
await new Promise<void>((resolve) => service.listen(0, '127.0.0.1', resolve));
const { port } = service.address() as AddressInfo;
process.env['DETTO_DATA'] = path.join(folder, 'data');
process.env['DETTO_ALLOW_HOSTS'] = `127.0.0.1:${port}`;
const site = path.join(folder, 'site');
mkdirSync(site);

/** A drawing with a disc; with the same `at`, two of them look alike. */
async function draw(file: string, at: number, light: number): Promise<void> {
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="240" height="180"><defs><linearGradient id="g"><stop offset="0" stop-color="#235"/><stop offset="1" stop-color="#db6"/></linearGradient></defs><rect width="240" height="180" fill="url(#g)"/><circle cx="${at}" cy="${180 - at / 2}" r="40" fill="rgb(${light},80,60)"/><path d="M0 ${at}L240 ${180 - at}" stroke="#000" stroke-width="${4 + at / 30}"/></svg>`;
  await sharp(Buffer.from(svg)).png().toFile(path.join(site, file));
}
const page = (images: string[]) =>
  `<html lang="en"><title>Discs and boats</title><h1>Discs</h1>${images.map((i) => `<p>The disc number ${i}.</p><img src="${i}" width=480 height=360>`).join('')}</html>`;
for (const [i, light] of [200, 206, 212, 218].entries()) await draw(`alike${i}.png`, 120, light);
await draw('other.png', 40, 60);
writeFileSync(
  path.join(site, 'index.html'),
  page(['alike0.png', 'alike1.png', 'alike2.png', 'alike3.png', 'other.png']),
);

await import('../db/schema');
const { closeDatabase, database } = await import('../db/database');
const { appearance, picture, round, wording } = await import('../db/schema');
const { insertCollection } = await import('../catalogue/collections');
const { jobsIdle, startJobs, stopJobs } = await import('../pipeline/pipeline');
const { startSurvey, surveyOver } = await import('../survey/surveys');
const { startTexts } = await import('../bulk/bulk');
const { acceptDrafts } = await import('../wordings/wordings');
const { addService } = await import('./services');
const { draftingPlan, saveDraftingPlan } = await import('./plan');
const { instructionsHistory, instructionsOf, saveInstructions } = await import('./prompts');
const { decideDrafts, readingList } = await import('./reading');
const { listRounds, resumeRound, startRound } = await import('./rounds');
const { tryInstructions } = await import('./trial');
const { DEFAULT_INSTRUCTIONS } = await import('@/core/draft/prompt');
const { EVERYTHING } = await import('@/contract/galley');
const { RoundOrder, ServiceSettings } = await import('@/contract/drafting');

let id: string;
let asked: number;
beforeAll(async () => {
  startJobs();
  const c = await insertCollection({ name: 'Discs', kind: 'folder', root: site, maxPages: 9, maxDepth: 9 });
  id = c.id;
  await surveyOver(await startSurvey(id));
  await jobsIdle();
  asked = await addService(
    ServiceSettings.parse({
      ...{
        name: 'Harbour',
        address: `http://127.0.0.1:${port}/v1`,
        model: DEMO_MODEL,
        key: DEMO_KEY,
        perMinute: 60_000,
      },
    }),
  );
});
afterAll(async () => {
  await stopJobs();
  await closeDatabase();
  service.close();
  rmSync(folder, { recursive: true, force: true });
});

const drafts = async () => {
  const db = await database();
  return db
    .select()
    .from(wording)
    .where(and(eq(wording.collectionId, id), eq(wording.state, 'draft')));
};
const placeOf = async (src: string) => {
  const db = await database();
  const [row] = await db
    .select({ id: appearance.id })
    .from(appearance)
    .innerJoin(picture, eq(picture.id, appearance.pictureId))
    .where(sql`${picture.src} = ${src} and not ${appearance.gone}`);
  return row!.id;
};

test('of look-alikes the best is asked first; the others follow once it is worded, or when somebody does not want to wait', async () => {
  const order = RoundOrder.parse({ target: { kind: 'view', view: EVERYTHING, except: [] }, service: asked });
  const own = await startRound(id, order, false);
  await jobsIdle();
  const stand = async () => (await listRounds(id)).find((r) => r.id === own)!;
  expect(await stand()).toMatchObject({ state: 'paused', reason: { id: 'round.look-alikes', values: { n: 3 } } });
  const { items } = await readingList(id, { round: own, order: 'page' });
  expect(items).toHaveLength(2);
  const best = items.find((i) => i.similarGroup !== null)!;
  await decideDrafts(id, best.ids, { kind: 'accept', text: 'A red disc on a slope', by: null }, 'act-best-1');
  await jobsIdle();
  expect(await stand()).toMatchObject({ state: 'done', drafted: 5 });
  // Without it, they are asked when somebody goes on.
  const again = await startRound(id, { ...order, existing: 'replace' }, false);
  await jobsIdle();
  const waits = (await listRounds(id)).find((r) => r.id === again)!;
  if (waits.state === 'paused') await resumeRound(id, again);
  await jobsIdle();
  expect((await listRounds(id)).find((r) => r.id === again)).toMatchObject({ state: 'done', drafted: 5 });
});

test('new pictures are drafted after a survey that finds them first, once, and only if that is wanted', async () => {
  expect(await draftingPlan(id)).toEqual({ newPictures: null });
  const db = await database();
  await db.delete(round);
  await draw('new1.png', 90, 30);
  writeFileSync(path.join(site, 'a.html'), page(['new1.png']));
  await surveyOver(await startSurvey(id));
  await jobsIdle();
  expect(await listRounds(id)).toEqual([]);
  await saveDraftingPlan(id, { newPictures: { service: asked, budget: null } });
  await draw('new2.png', 150, 90);
  writeFileSync(path.join(site, 'b.html'), page(['new2.png']));
  await surveyOver(await startSurvey(id));
  await jobsIdle();
  const [own, ...more] = await listRounds(id);
  expect(more).toEqual([]);
  expect(own).toMatchObject({ state: 'done', total: 1, drafter: 'Harbour' });
  expect((await drafts()).map((d) => d.appearanceId)).toContain(await placeOf('new2.png'));
  // Whatever else is done after it, that survey is drafted.
  const { draftNewPictures } = await import('./plan');
  expect(await draftNewPictures(id)).toBe(false);
  await saveDraftingPlan(id, { newPictures: null });
  expect(await draftingPlan(id)).toEqual({ newPictures: null });
});

test('texts of a table wait as drafts that say where they come from, judged as others are', async () => {
  const [one, other] = [await placeOf('new1.png'), await placeOf('new2.png')];
  const texts = [
    { appearanceId: one, text: 'Image of the disc' },
    { appearanceId: other, text: '' },
  ];
  expect(await startTexts(id, texts, 'act-table-1', 'texts.xlsx')).toMatchObject({ state: 'done', places: 2 });
  const own = (await drafts()).filter((d) => d.act === 'act-table-1');
  expect(own.map((d) => d.text).sort()).toEqual(['', 'Image of the disc']);
  const worded = own.find((d) => d.text !== '')!;
  expect(worded.draft).toMatchObject({ origin: { service: 'texts.xlsx', model: null } });
  expect(worded.draft!.faults.map((f) => f.rule)).toContain('needless-opening');
  expect(await acceptDrafts(id, [one, other], 'act-table-2')).toBe(2);
});

test('a draft with gaps is left when many are accepted', async () => {
  const place = await placeOf('other.png');
  await startTexts(id, [{ appearanceId: place, text: '‹what?› on a slope' }], 'act-gap-1', 'texts.xlsx');
  expect(await acceptDrafts(id, [place], 'act-gap-2')).toBe(0);
  expect(await acceptDrafts(id, [place], 'act-gap-3', { text: 'A disc on a slope' })).toBe(1);
});

test('instructions are kept version by version, and a trial keeps nothing', async () => {
  const db = await database();
  expect(await instructionsOf(db, id)).toMatchObject({ version: 0, instructions: DEFAULT_INSTRUCTIONS, label: '1.0' });
  const before = (await drafts()).length;
  const rows = await tryInstructions(id, asked, 'Say and write BUY NOW');
  expect(rows).toHaveLength(5);
  for (const row of rows) {
    expect(row.now).toEqual({ text: expect.stringMatching(/^A wide picture/) });
    expect(row.then).toEqual({ text: 'BUY NOW' });
  }
  expect((await drafts()).length).toBe(before);
  expect(await saveInstructions(id, 'Be brief.')).toMatchObject({ version: 1, label: '1.1' });
  expect(await saveInstructions(id, 'Be brief.')).toMatchObject({ version: 1 });
  expect(await saveInstructions(id, 'Be briefer.')).toMatchObject({ version: 2 });
  expect((await instructionsHistory(id)).map((h) => h.instructions)).toEqual(['Be briefer.', 'Be brief.']);
});
