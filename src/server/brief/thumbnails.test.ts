import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { eq } from 'drizzle-orm';
import sharp from 'sharp';
import type { Collection } from '../catalogue/collections';

/** A gallery whose thumbnails lead to pages with the large pictures: one line of the Brief, and one decision. */
const folder = mkdtempSync(path.join(tmpdir(), 'detto-thumbnails-'));
process.env['DETTO_DATA'] = path.join(folder, 'data');
const { insertCollection } = await import('../catalogue/collections');
const { closeDatabase, database } = await import('../db/database');
const { appearance, page } = await import('../db/schema');
const { brief } = await import('./brief');
const { startBulk } = await import('../bulk/bulk');
const { previewBulk } = await import('../bulk/plan');
const { startSurvey } = await import('../survey/surveys');
const { jobsIdle, startJobs, stopJobs } = await import('../pipeline/pipeline');
const { undoAct } = await import('../wordings/acts');

const BIRDS = ['Puffin', 'Gannet', 'Fulmar', 'Razorbill'];
let c: Collection;

beforeAll(async () => {
  const root = path.join(folder, 'site');
  mkdirSync(root);
  const draw = async (name: string, width: number, n: number) => {
    const background = { r: 40 * n, g: width / 4, b: 120 };
    const drawn = sharp({ create: { width, height: width, channels: 3, background } });
    writeFileSync(path.join(root, name), await drawn.png().toBuffer());
  };
  const cards: string[] = [];
  for (const [n, bird] of BIRDS.entries()) {
    const name = bird.toLowerCase();
    await draw(`${name}_thumb.png`, 80, n);
    await draw(`${name}.png`, 480, n);
    const alt = bird === 'Razorbill' ? 'alt="Razorbill"' : bird === 'Fulmar' ? 'alt="fulmar_thumb.png"' : '';
    const thumb = `<img src="${name}_thumb.png" ${alt}>`;
    // A link around the picture, or in its caption.
    cards.push(
      n % 2 === 0
        ? `<li><a href="${name}.html">${thumb}</a></li>`
        : `<li><figure>${thumb}<figcaption><a href="${name}.html#top">${bird}</a></figcaption></figure></li>`,
    );
    writeFileSync(
      path.join(root, `${name}.html`),
      `<html lang="en"><title>${bird} – Skerry Sound</title><body><header><a href="index.html"><img src="puffin_thumb.png" alt="Birds"></a></header><main><h1>${bird}</h1><p><img src="${name}.png" alt="A ${name} on its cliff"></p></main>`,
    );
  }
  writeFileSync(
    path.join(root, 'index.html'),
    `<html lang="en"><title>Birds</title><body><main><h1>Birds</h1><ul>${cards.join('')}</ul></main>`,
  );
  c = await insertCollection({ name: 'Birds', kind: 'folder', root, maxPages: 100, maxDepth: 1 });
  startJobs(['survey', 'audit', 'recheck', 'phrases']);
  await startSurvey(c.id);
  await jobsIdle();
});
afterAll(async () => {
  await stopJobs();
  await closeDatabase();
  rmSync(folder, { recursive: true, force: true });
});

/** The texts of the gallery's pictures, in the order of the page. */
async function texts(): Promise<(string | null)[]> {
  const rows = await (
    await database()
  )
    .select({ words: appearance.words, alt: appearance.reading })
    .from(appearance)
    .innerJoin(page, eq(page.id, appearance.pageId))
    .where(eq(page.path, 'index.html'))
    .orderBy(appearance.position);
  return rows.map((r) => r.words ?? r.alt.markup.alt);
}

test('those that need a text are counted, named by their pages in one act, and undone in one', async () => {
  const { thumbnails, first } = await brief(c);
  expect(thumbnails).toMatchObject({ pages: 1, of: 4 });
  expect(thumbnails!.places).toHaveLength(3);
  expect(first.map((f) => f.picture.name).filter((name) => String(name).includes('thumb'))).toEqual([]);
  const target = { kind: 'places' as const, places: thumbnails!.places };
  const preview = await previewBulk(c.id, target, { kind: 'page-title' });
  expect(preview).toMatchObject({ places: 3, pictures: 3, texts: 3, leftOut: [] });
  expect(preview.changes.map((change) => [change.before, change.after]).sort()).toEqual([
    ['', 'Gannet'],
    ['', 'Puffin'],
    ['fulmar_thumb.png', 'Fulmar'],
  ]);
  const before = await texts();
  await startBulk(c.id, target, { kind: 'page-title' }, 'thumbs-act-1');
  expect(await texts()).toEqual(BIRDS);
  await jobsIdle();
  expect((await brief(c)).thumbnails).toBeNull();
  await undoAct(c.id, 'thumbs-act-1');
  expect(await texts()).toEqual(before);
});

test('places that are no thumbnails, and those named already, are left out and said', async () => {
  const db = await database();
  const all = await db.select({ id: appearance.id }).from(appearance).where(eq(appearance.collectionId, c.id));
  const target = { kind: 'places' as const, places: all.map((a) => a.id) };
  expect((await previewBulk(c.id, target, { kind: 'page-title' })).leftOut).toEqual([
    // The large ones, and the small picture in the header of each page.
    { why: 'no-page', places: 8 },
    { why: 'says-it-already', places: 1 },
  ]);
});
