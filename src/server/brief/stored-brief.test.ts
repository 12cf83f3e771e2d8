import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { gif } from '../testing/site';

/** The Brief of a large collection is counted in the background, and says meanwhile what it said before. */
const folder = mkdtempSync(path.join(tmpdir(), 'detto-brief-'));
process.env['DETTO_DATA'] = path.join(folder, 'data');
await import('../db/schema');
const { closeDatabase, database } = await import('../db/database');
const { appearance, collection } = await import('../db/schema');
const { collectionById, insertCollection } = await import('../catalogue/collections');
const { onChange } = await import('../changes');
const { jobsIdle, startJobs, stopJobs } = await import('../pipeline/pipeline');
const { startSurvey, surveyOver } = await import('../survey/surveys');
const { ignoreFindings } = await import('../audit/ignored');
const { saveWords } = await import('../wordings/wordings');
const { storedBrief } = await import('./stored-brief');

let id: string;
beforeAll(async () => {
  const root = path.join(folder, 'site');
  mkdirSync(root);
  writeFileSync(path.join(root, 'boat.gif'), gif(300, 200));
  writeFileSync(path.join(root, 'a.html'), '<html lang="en"><title>A</title><p>Text</p><img src="boat.gif">');
  startJobs(['survey', 'audit', 'recheck', 'phrases', 'brief']);
  id = (await insertCollection({ name: 'Brief', kind: 'folder', root, maxPages: 9, maxDepth: 9 })).id;
  await surveyOver(await startSurvey(id));
  await jobsIdle();
});
afterAll(async () => {
  await stopJobs();
  await closeDatabase();
  rmSync(folder, { recursive: true, force: true });
});
const briefNow = async () => storedBrief((await collectionById(id))!, 1);

test('it is counted at the first visit, then only when something has changed, and windows hear of it', async () => {
  expect(await briefNow()).toMatchObject({ pictures: 1, missing: 1, described: 0 });
  await jobsIdle();
  expect((await collectionById(id))!.brief).toMatchObject({ missing: 1 });
  const [place] = await (await database()).select({ id: appearance.id }).from(appearance);
  await saveWords({ collectionId: id, appearanceIds: [place!.id], text: 'A boat', act: 'act-brief', by: 'person' });
  const heard: unknown[] = [];
  const end = onChange(id, (change) => heard.push(change.pictures));
  // What it said before, at once; what is true now, a moment later.
  expect(await briefNow()).toMatchObject({ missing: 1 });
  await jobsIdle();
  expect(heard.at(-1)).toEqual([]);
  end();
  expect(await briefNow()).toMatchObject({ missing: 0, described: 1 });
});

test('a small collection is counted at the visit itself, and only when something has changed', async () => {
  const small = async () => storedBrief((await collectionById(id))!);
  expect(await small()).toMatchObject({ described: 1 });
  const [place] = await (await database()).select({ id: appearance.id }).from(appearance);
  await saveWords({ collectionId: id, appearanceIds: [place!.id], text: '', act: 'act-silent', by: 'person' });
  expect(await small()).toMatchObject({ described: 0, decorative: 1 });
  const stored = (await collectionById(id))!;
  expect(stored.brief).toMatchObject({ decorative: 1 });
  // Nothing has changed, so what is stored is given back as it stands.
  await (await database()).update(collection).set({ brief: { ...stored.brief!, decorative: 7 } });
  expect(await small()).toMatchObject({ decorative: 7 });
});

test('a finding that is ignored counts no more at the next visit', async () => {
  const small = async () => storedBrief((await collectionById(id))!);
  const [place] = await (await database()).select({ id: appearance.id }).from(appearance);
  await saveWords({ collectionId: id, appearanceIds: [place!.id], text: 'boat.gif', act: 'act-file', by: 'person' });
  const before = await small();
  expect(before.rules.map((r) => r.rule)).toContain('file-name');
  const aside = { rule: 'file-name', reason: 'It is its name', by: 'Isla', act: 'act-aside' };
  await ignoreFindings({ collectionId: id, appearanceIds: [place!.id], ...aside });
  const after = await small();
  expect([after.ignored, after.rules.map((r) => r.rule)]).toEqual([
    before.ignored + 1,
    expect.not.arrayContaining(['file-name']),
  ]);
});
