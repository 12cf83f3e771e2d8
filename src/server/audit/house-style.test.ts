import { GalleyView } from '@/contract/galley';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { and, eq } from 'drizzle-orm';
import type { Collection } from '../catalogue/collections';
import sharp from 'sharp';
import { testOfOne } from '../testing/postgres';

/** What people do with findings and settings, on a collection in a database of its own. */
const folder = mkdtempSync(path.join(tmpdir(), 'detto-style-'));
process.env['DETTO_DATA'] = path.join(folder, 'data');
const { insertCollection, collectionById } = await import('../catalogue/collections');
const { closeDatabase, database } = await import('../db/database');
const { appearance, finding, page, picture } = await import('../db/schema');
const { deskPicture } = await import('../desk/desk');
const { galleyLines } = await import('../catalogue/lines');
const { brief } = await import('../brief/brief');
const { startSurvey } = await import('../survey/surveys');
const { jobsIdle, startJobs, stopJobs } = await import('../pipeline/pipeline');
const { enqueueRecheck, fetchJobs } = await import('../jobs/queue');
const { saveWords } = await import('../wordings/wordings');
const { undoAct } = await import('../wordings/acts');
const { acceptWord, saveHouseStyle } = await import('./house-style');
const { countIgnored, bringBack, ignoreFindings } = await import('./ignored');
const { styleEffect } = await import('./style-effect');
const { countPhrases } = await import('./audit-collection');

let c: Collection;

const WITHOUT_ANALYSIS = ['survey', 'audit', 'recheck', 'phrases'] as const;

beforeAll(async () => {
  const root = path.join(folder, 'site');
  mkdirSync(root);
  const texts = [
    'A gull on the raling of the boat',
    'Seals on the slip | Skerry Sound ferries',
    'The lighthouse at noon | Skerry Sound ferries',
    'Two boats in the ice | Skerry Sound ferries',
    'The harbour from the hill, with the long pier, the short pier, and the ferry that has just come in',
    'Photo of the quay',
  ];
  for (const [n, alt] of texts.entries()) {
    const background = { r: n, g: 90, b: 120 };
    const picture = sharp({ create: { width: 40, height: 30, channels: 3, background } });
    writeFileSync(path.join(root, `p${n}.png`), await picture.png().toBuffer());
    writeFileSync(
      path.join(root, `${n}.html`),
      `<html lang="en"><title>Page ${n}</title><body><p>Text<img src="p${n}.png" alt="${alt}" width="40" height="30"></p>`,
    );
  }
  c = await insertCollection({ name: 'Styled', kind: 'folder', root, maxPages: 100, maxDepth: 1 });
  // What analysis sees in the pictures would be found too.
  startJobs(WITHOUT_ANALYSIS);
  await startSurvey(c.id);
  await jobsIdle();
});
afterAll(async () => {
  await stopJobs();
  await closeDatabase();
  rmSync(folder, { recursive: true });
});

const now = async () => (await collectionById(c.id))!;

/** Pages with an open finding of a rule. */
async function foundOn(rule: string): Promise<string[]> {
  const db = await database();
  const rows = await db
    .select({ path: page.path })
    .from(finding)
    .innerJoin(appearance, eq(appearance.id, finding.appearanceId))
    .innerJoin(page, eq(page.id, appearance.pageId))
    .where(and(eq(finding.collectionId, c.id), eq(finding.rule, rule), eq(finding.ignored, false)));
  return rows.map((r) => r.path).sort();
}

async function placeOn(file: string): Promise<{ id: number; pictureId: number }> {
  const db = await database();
  const [row] = await db
    .select({ id: appearance.id, pictureId: appearance.pictureId })
    .from(appearance)
    .innerJoin(page, eq(page.id, appearance.pageId))
    .where(and(eq(page.collectionId, c.id), eq(page.path, file)));
  return row!;
}

describe('setting aside', () => {
  const aside = (appearanceIds: number[], act: string) =>
    ignoreFindings({ collectionId: c.id, appearanceIds, rule: 'misspelt', reason: 'a local word', by: 'Ann', act });

  test('a finding that was set aside counts nowhere, and is reported with its reason at the Desk', async () => {
    const { id, pictureId } = await placeOn('0.html');
    expect(await foundOn('misspelt')).toEqual(['0.html']);
    const before = (await brief(c)).outcomes.advice;
    expect(await aside([id], 'aside-1-x')).toBe(1);
    expect(await foundOn('misspelt')).toEqual([]);
    expect(await countIgnored(c.id, 'misspelt')).toBe(1);
    const view = GalleyView.parse({ rule: 'misspelt', sort: 'reach' });
    expect((await galleyLines(c.id, view, 0, 10)).total).toBe(0);
    const { outcomes, ignored } = await brief(c);
    expect([outcomes.advice, ignored]).toEqual([before - 1, 1]);
    const desk = (await deskPicture(c, pictureId, id))!.places[0]!;
    expect(desk.ignored).toEqual([expect.objectContaining({ rule: 'misspelt', reason: 'a local word', by: 'Ann' })]);
    expect(desk.findings).toEqual([]);
    expect(await aside([id], 'aside-2-x')).toBe(0);
  });

  test('it comes back when the words change, and stays away when they are as they were', async () => {
    const { id, pictureId } = await placeOn('0.html');
    const keep = (text: string | null, act: string) =>
      saveWords({ collectionId: c.id, appearanceIds: [id], text, act, by: 'person' });
    await keep('Two gulls on the raling of the boat', 'words-1-x');
    expect(await foundOn('misspelt')).toEqual(['0.html']);
    expect((await deskPicture(c, pictureId, id))!.places[0]!.ignored).toEqual([]);
    await undoAct(c.id, 'words-1-x');
    expect(await foundOn('misspelt')).toEqual([]);
  });

  test('it comes back when the picture changes', async () => {
    const db = await database();
    const { id, pictureId } = await placeOn('0.html');
    const [{ sha256 } = { sha256: null }] = await db.select().from(picture).where(eq(picture.id, pictureId));
    const change = async (to: string | null) => {
      await db.update(picture).set({ sha256: to }).where(eq(picture.id, pictureId));
      await saveWords({ collectionId: c.id, appearanceIds: [id], text: null, act: `same-${to}`, by: 'person' });
    };
    await change('0'.repeat(64));
    expect(await foundOn('misspelt')).toEqual(['0.html']);
    await change(sha256);
    expect(await foundOn('misspelt')).toEqual([]);
  });

  test('it is brought back by hand, and by undoing', async () => {
    const { id } = await placeOn('0.html');
    await bringBack(c.id, [id], 'misspelt', 'shown-again-1');
    expect(await foundOn('misspelt')).toEqual(['0.html']);
    await aside([id], 'aside-3-x');
    expect(await undoAct(c.id, 'aside-3-x')).toBe(1);
    expect(await foundOn('misspelt')).toEqual(['0.html']);
    expect(await countIgnored(c.id, 'misspelt')).toBe(0);
  });
});

test('a word that the house accepts is doubted nowhere any more', async () => {
  await acceptWord(c.id, 'raling', 'accept-word-1');
  expect(await foundOn('misspelt')).toEqual([]);
  expect((await now()).style).toEqual({ misspelt: { parameters: { words: ['raling'] } } });
});

describe('the house style', () => {
  test('the effect of a change is counted before it is kept, with examples', async () => {
    const { effects, counted, of } = await styleEffect(await now(), {
      ...(await now()).style,
      overlong: { parameters: { limit: 30 } },
      'needless-opening': { off: true },
    });
    expect([counted, of]).toEqual([6, 6]);
    const by = new Map(effects.map((e) => [e.rule, e]));
    expect(by.get('overlong')).toMatchObject({ counts: 'texts', before: 0, after: 5 });
    expect(by.get('overlong')!.examples[0]!.message).toMatchObject({ id: 'overlong.over', values: { limit: 30 } });
    expect(by.get('needless-opening')).toMatchObject({ before: 1, after: 0 });
    expect(await foundOn('overlong')).toEqual([]);
  });

  test('when it is kept, what it touches is found again, and nothing else', async () => {
    const db = await database();
    const others = () =>
      db
        .select({ id: finding.id })
        .from(finding)
        .where(and(eq(finding.collectionId, c.id), eq(finding.rule, 'needless-opening')));
    const before = await others();
    await saveHouseStyle(
      c.id,
      { ...(await now()).style, overlong: { outcome: 'failed', parameters: { limit: 30 } } },
      'style-act-1',
    );
    await jobsIdle();
    expect((await foundOn('overlong')).length).toBe(5);
    const rows = await db.select().from(finding).where(eq(finding.rule, 'overlong'));
    expect(new Set(rows.map((r) => r.outcome))).toEqual(new Set(['failed']));
    expect(await others()).toEqual(before);
  });

  testOfOne('what a stop broke off is found at the next start', async () => {
    const db = await database();
    await db.delete(finding).where(eq(finding.rule, 'overlong'));
    await stopJobs();
    // As a process leaves it that was killed while it checked.
    await enqueueRecheck(c.id, ['overlong']);
    await fetchJobs('recheck', 1);
    startJobs(WITHOUT_ANALYSIS);
    await jobsIdle();
    expect((await foundOn('overlong')).length).toBe(5);
  });

  test('a phrase is reported from the share on that the style sets, and no more when it is gone', async () => {
    expect(await foundOn('boilerplate')).toEqual([]);
    await saveHouseStyle(c.id, { boilerplate: { parameters: { share: 0.3, atLeast: 3 } } }, 'style-act-2');
    await jobsIdle();
    expect(await foundOn('boilerplate')).toEqual(['1.html', '2.html', '3.html']);
    const { id } = await placeOn('1.html');
    await saveWords({ collectionId: c.id, appearanceIds: [id], text: 'Seals asleep', act: 'seals-1-x', by: 'person' });
    expect(await foundOn('boilerplate')).toEqual(['2.html', '3.html']);
    expect(await countPhrases(await database(), c.id)).toBe(true);
    expect((await now()).phrases).toEqual([]);
  });
});
