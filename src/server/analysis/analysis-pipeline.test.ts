import { strings } from '@/ui/strings';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { jest } from '@jest/globals';
import { and, asc, eq } from 'drizzle-orm';
import sharp from 'sharp';
import { testOfOne } from '../testing/postgres';

jest.setTimeout(240_000);

/** Pictures are looked at after a survey, once by content, and what follows from it is concluded, stops or not. */
const folder = mkdtempSync(path.join(tmpdir(), 'detto-analysis-'));
process.env['DETTO_DATA'] = path.join(folder, 'data');

const { insertCollection } = await import('../catalogue/collections');
const { closeDatabase, database } = await import('../db/database');
const { appearance, finding, picture } = await import('../db/schema');
const { startSurvey } = await import('../survey/surveys');
const { jobsIdle, startJobs, stopJobs } = await import('../pipeline/pipeline');
const { enqueue, fetchJobs } = await import('../jobs/queue');
const { analysisProgress } = await import('./analysis-progress');

const drawing = (n: number) =>
  Buffer.from(
    `<svg xmlns="http://www.w3.org/2000/svg" width="320" height="240"><rect width="320" height="240" fill="#cde"/>${Array.from(
      { length: 8 },
      (_, i) =>
        `<circle cx="${(n * 71 + i * 53) % 320}" cy="${(n * 37 + i * 41) % 240}" r="${16 + ((n + i * 7) % 30)}" fill="hsl(${(n * 50 + i * 30) % 360} 60% 45%)"/>`,
    ).join('')}</svg>`,
  );
const poster = Buffer.from(
  `<svg xmlns="http://www.w3.org/2000/svg" width="600" height="260"><rect width="600" height="260" fill="#fff"/><g font-family="DejaVu Sans, sans-serif"><text x="30" y="80" font-size="48">Winter market</text><text x="30" y="150" font-size="40">Saturday and Sunday</text><text x="30" y="215" font-size="40">Free entry</text></g></svg>`,
);

let first: Awaited<ReturnType<typeof insertCollection>>;

async function surveyed(name: string) {
  const c = await insertCollection({
    name,
    kind: 'folder',
    root: path.join(folder, 'site'),
    maxPages: 100,
    maxDepth: 1,
  });
  await startSurvey(c.id);
  await jobsIdle();
  return c;
}

const rows = async (id: string) =>
  (await database()).select().from(picture).where(eq(picture.collectionId, id)).orderBy(asc(picture.src));
const named = async (id: string, name: string) => (await rows(id)).find((r) => r.src?.endsWith(name))!;

beforeAll(async () => {
  startJobs();
  const site = path.join(folder, 'site');
  mkdirSync(site);
  writeFileSync(path.join(site, 'a.png'), await sharp(drawing(1)).png().toBuffer());
  writeFileSync(path.join(site, 'small.jpg'), await sharp(drawing(1)).resize(160).jpeg({ quality: 60 }).toBuffer());
  writeFileSync(path.join(site, 'other.png'), await sharp(drawing(9)).png().toBuffer());
  writeFileSync(path.join(site, 'poster.png'), await sharp(poster).png().toBuffer());
  writeFileSync(
    path.join(site, 'index.html'),
    '<html lang="en"><title>Start</title><main><p>One <img src="a.png" alt="Circles"> two <img src="small.jpg" alt="Circles"> three <img src="other.png"> four <img src="poster.png" alt="Our market"></p></main>',
  );
  first = await surveyed('First');
});
afterAll(async () => {
  await stopJobs();
  await closeDatabase();
  rmSync(folder, { recursive: true, force: true });
});

test('each picture is looked at and read, and what is alike is grouped', async () => {
  expect(await analysisProgress(first.id)).toEqual({
    isAnalysing: false,
    analysed: 4,
    toAnalyse: 4,
    recognised: 4,
    toRecognise: 4,
  });
  const [a, small, other] = [
    await named(first.id, 'a.png'),
    await named(first.id, 'small.jpg'),
    await named(first.id, 'other.png'),
  ];
  expect(a.duplicateGroup).toBe(Math.min(a.id, small.id));
  expect(small.duplicateGroup).toBe(a.duplicateGroup);
  expect([other.duplicateGroup, other.similarGroup]).toEqual([null, null]);
  expect([a.similarRank, small.similarRank]).toEqual([1, 2]);
  expect(a.kind).not.toBeNull();
  expect((await named(first.id, 'poster.png')).recognisedText).toContain('Saturday and Sunday');
});

test('purposes and findings follow from what was seen', async () => {
  const db = await database();
  const [place] = await db
    .select()
    .from(appearance)
    .where(eq(appearance.pictureId, (await named(first.id, 'poster.png')).id));
  expect(place!.purpose).toBe('image of text');
  expect(place!.evidence[0]).toMatchObject({ id: 'evidence.words' });
  const found = await db
    .select({ rule: finding.rule })
    .from(finding)
    .where(and(eq(finding.collectionId, first.id), eq(finding.appearanceId, place!.id)));
  expect(found.map((f) => f.rule)).toContain('text-not-in-alt');
  // Two encodings of one picture may say the same.
  const all = await db.select({ rule: finding.rule }).from(finding).where(eq(finding.collectionId, first.id));
  expect(all.map((f) => f.rule)).not.toContain('same-words');
});

test('what says nothing comes first in the order of work, with the reason', async () => {
  const ordered = (await rows(first.id)).sort((a, b) => b.urgency - a.urgency);
  expect(ordered[0]!.src).toMatch(/other\.png$/);
  expect(strings.message(ordered[0]!.urgencyReason!)).toMatch(/^no alt text, on one page, main content/);
  expect(ordered.at(-1)!.urgency).toBeLessThan(ordered[0]!.urgency);
});

test('the same file in another collection is not looked at again', async () => {
  const second = await surveyed('Second');
  const [own, theirs] = [await named(second.id, 'poster.png'), await named(first.id, 'poster.png')];
  expect(own.id).not.toBe(theirs.id);
  expect(own).toMatchObject({
    kind: theirs.kind,
    thumb: theirs.thumb,
    recognisedText: theirs.recognisedText,
    analysisVersion: theirs.analysisVersion,
  });
  expect(await analysisProgress(second.id)).toMatchObject({ analysed: 4, recognised: 4 });
});

testOfOne('what a stop broke off is concluded at the next start', async () => {
  const db = await database();
  await db.update(picture).set({ duplicateGroup: null, similarGroup: null }).where(eq(picture.collectionId, first.id));
  await db.delete(finding).where(and(eq(finding.collectionId, first.id), eq(finding.rule, 'text-not-in-alt')));
  await stopJobs();
  // As a process leaves it that was killed after analysis and before it concluded.
  await enqueue('conclusions', { collectionId: first.id });
  await fetchJobs('conclusions', 1);
  startJobs();
  await jobsIdle();
  expect((await named(first.id, 'small.jpg')).duplicateGroup).not.toBeNull();
  expect(
    await db
      .select()
      .from(finding)
      .where(and(eq(finding.collectionId, first.id), eq(finding.rule, 'text-not-in-alt'))),
  ).toHaveLength(1);
});

test('stopped in between, the rest is looked at later', async () => {
  const db = await database();
  await db
    .update(picture)
    .set({ analysisVersion: 0, recognitionVersion: 0, recognition: null })
    .where(eq(picture.collectionId, first.id));
  await enqueue('analysis', { collectionId: first.id, surveyed: false });
  await stopJobs();
  startJobs();
  await jobsIdle();
  expect(await analysisProgress(first.id)).toMatchObject({ analysed: 4, recognised: 4 });
});
