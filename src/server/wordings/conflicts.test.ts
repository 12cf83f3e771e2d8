import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { jest } from '@jest/globals';
import { eq } from 'drizzle-orm';
import type { Collection } from '../catalogue/collections';
import { DOT, TestSite } from '../testing/site';

/** Two texts for one place: neither is lost, and nothing is delivered there before somebody chooses. */
jest.setTimeout(240_000);

let site: TestSite;
let data: string;
let c: Collection;
/** What the page says, as somebody edits it there. */
let onPage = 'alt="Quay"';
const act = (name: string) => `act-${name}-${'0'.repeat(8)}`;

beforeAll(async () => {
  site = await TestSite.open(({ url }) => {
    if (url === '/dot.gif') return { headers: { 'content-type': 'image/gif' }, body: DOT };
    if (url !== '/') return undefined;
    return { body: `<!doctype html><html lang=en><title>Start</title><p>Text</p><img src="dot.gif" ${onPage}>` };
  });
  data = mkdtempSync(path.join(tmpdir(), 'detto-conflicts-'));
  process.env['DETTO_DATA'] = path.join(data, 'data');
  process.env['DETTO_ALLOW_HOSTS'] = site.host;
  const { insertCollection } = await import('../catalogue/collections');
  c = await insertCollection({ name: 'Conflicts', kind: 'site', root: `${site.origin}/`, maxPages: 10, maxDepth: 2 });
  await survey();
});

afterAll(async () => {
  const { stopJobs } = await import('../pipeline/pipeline');
  const { closeDatabase } = await import('../db/database');
  await stopJobs();
  await closeDatabase();
  await site.close();
  rmSync(data, { recursive: true, force: true });
});

async function survey(): Promise<void> {
  const { startSurvey, surveyOver } = await import('../survey/surveys');
  const { startJobs } = await import('../pipeline/pipeline');
  startJobs();
  await surveyOver(await startSurvey(c.id));
}

/** The one place: its words that wait for delivery, its history, and what waits to be chosen there. */
async function place() {
  const { database } = await import('../db/database');
  const { appearance, wording } = await import('../db/schema');
  const { openConflicts } = await import('./conflicts');
  const { collectionById } = await import('../catalogue/collections');
  const db = await database();
  const [row] = await db.select().from(appearance).where(eq(appearance.collectionId, c.id));
  const history = await db.select().from(wording).where(eq(wording.appearanceId, row!.id)).orderBy(wording.id);
  return {
    id: row!.id,
    words: row!.words,
    revision: (await collectionById(c.id))!.revision,
    history: history.map((w) => `${w.state}: ${w.text}`),
    conflicts: await openConflicts(db, c.id),
  };
}

async function keep(text: string | null, name: string, since?: number, after: string[] = []) {
  const { saveWords } = await import('./wordings');
  const { id } = await place();
  const more = since === undefined ? {} : { since };
  return saveWords({ collectionId: c.id, appearanceIds: [id], text, act: act(name), by: 'person', after, ...more });
}

async function delivered(): Promise<{ changes: number; waiting: number; conflicts: number }> {
  const { previewed } = await import('../testing/delivery');
  const pages = await previewed(c);
  const sum = (of: (p: (typeof pages)[number]) => number) => pages.reduce((n, p) => n + of(p), 0);
  return {
    changes: sum((p) => p.changes.length),
    waiting: sum((p) => p.waiting),
    conflicts: sum((p) => p.conflicts.length),
  };
}

test('the later of two windows replaces nothing: both texts are kept, and one is chosen', async () => {
  const { chooseText } = await import('./wordings');
  const { undoAct } = await import('./acts');
  const seen = (await place()).revision;
  expect(await keep('The quay at dawn', 'window-a', seen)).toMatchObject({ places: 1, conflicts: [] });
  const late = await keep('Boats at the quay', 'window-b', seen);
  expect(late).toMatchObject({
    places: 0,
    conflicts: [{ kind: 'edit', theirs: 'The quay at dawn', ours: 'Boats at the quay', page: 'Start' }],
  });
  // Going on to write under the same act changes the text that waits, and asks for no second choice.
  await keep('Two boats at the quay', 'window-b', seen);
  const now = await place();
  expect(now).toMatchObject({ words: 'The quay at dawn', conflicts: [{ ours: 'Two boats at the quay' }] });
  expect(now.history).toEqual(['accepted: The quay at dawn', 'conflict: Two boats at the quay']);
  expect(await delivered()).toEqual({ changes: 0, waiting: 1, conflicts: 1 });

  expect(await chooseText(c.id, now.conflicts[0]!.id, 'ours', act('choice'))).toBe(true);
  expect(await chooseText(c.id, now.conflicts[0]!.id, 'theirs', act('late-choice'))).toBe(false);
  expect(await place()).toMatchObject({ words: 'Two boats at the quay', conflicts: [] });
  expect(await delivered()).toMatchObject({ changes: 1, conflicts: 0 });

  await undoAct(c.id, act('choice'));
  expect(await place()).toMatchObject({ words: 'The quay at dawn', conflicts: [{ ours: 'Two boats at the quay' }] });
  const [open] = (await place()).conflicts;
  await chooseText(c.id, open!.id, 'theirs', act('choice-2'));
  expect(await place()).toMatchObject({ words: 'The quay at dawn', conflicts: [] });
});

test('what a window has saved itself is nobody else’s, even where it shows what it fetched before', async () => {
  const { undoAct } = await import('./acts');
  const seen = (await place()).revision;
  await keep('The quay, with boats', 'own-1', seen);
  expect(await keep('', 'own-2', seen, [act('own-1')])).toMatchObject({ places: 1, conflicts: [] });
  await keep('Somebody else’s quay', 'other');
  expect((await keep('The quay', 'own-3', seen, [act('own-1'), act('own-2')])).conflicts).toHaveLength(1);
  for (const name of ['own-3', 'other', 'own-2', 'own-1']) await undoAct(c.id, act(name));
  expect((await place()).conflicts).toEqual([]);
});

test('going on to write, the same words, and an answer that got lost are no conflict', async () => {
  const { revision } = await place();
  expect((await keep('Quay', 'typing-1', revision)).conflicts).toEqual([]);
  // The first answer never came: the same act is sent again from the same state.
  expect((await keep('Quay, low water', 'typing-1', revision)).conflicts).toEqual([]);
  expect((await keep('Quay, low water', 'other', revision)).conflicts).toEqual([]);
  expect((await keep('Something else', 'other-2', revision)).conflicts).toHaveLength(1);
  const { conflicts, revision: now } = await place();
  // Who writes from the state that shows both has chosen.
  expect((await keep('A third text', 'third', now)).conflicts).toEqual([]);
  expect(conflicts).toHaveLength(1);
  expect(await place()).toMatchObject({ words: 'A third text', conflicts: [] });
});

test('a page that was changed after it was worded is a conflict of three texts', async () => {
  const { chooseText } = await import('./wordings');
  await keep('Ours', 'page-1');
  onPage = 'alt="Theirs"';
  await survey();
  expect(await place()).toMatchObject({
    words: 'Ours',
    conflicts: [{ kind: 'page', first: 'Quay', theirs: 'Theirs', ours: 'Ours' }],
  });
  expect(await delivered()).toEqual({ changes: 0, waiting: 1, conflicts: 1 });
  // It is changed once more: what was found first stays.
  onPage = 'alt="Theirs again"';
  await survey();
  const { conflicts } = await place();
  expect(conflicts).toMatchObject([{ first: 'Quay', theirs: 'Theirs again', ours: 'Ours' }]);
  await chooseText(c.id, conflicts[0]!.id, 'ours', act('page-choice'));
  expect(await delivered()).toEqual({ changes: 1, waiting: 1, conflicts: 0 });
  await survey();
  expect(await place()).toMatchObject({ words: 'Ours', conflicts: [] });

  onPage = 'alt="Third"';
  await survey();
  const [open] = (await place()).conflicts;
  await chooseText(c.id, open!.id, 'theirs', act('page-choice-2'));
  expect(await place()).toMatchObject({ words: null, conflicts: [] });
  expect(await delivered()).toEqual({ changes: 0, waiting: 0, conflicts: 0 });
});

test('a page that goes back to what was found, or says ours, is no conflict any more', async () => {
  onPage = 'alt="Start"';
  await survey();
  await keep('Ours', 'back-1');
  onPage = 'alt="Changed"';
  await survey();
  expect((await place()).conflicts).toHaveLength(1);
  onPage = 'alt="Start"';
  await survey();
  expect(await place()).toMatchObject({ words: 'Ours', conflicts: [] });
  onPage = 'alt="Changed"';
  await survey();
  expect((await place()).conflicts).toHaveLength(1);
  onPage = 'alt="Ours"';
  await survey();
  expect(await place()).toMatchObject({ words: null, conflicts: [] });
});

test('what was live and is changed on the page stays changed, whatever is undone later', async () => {
  const { undoAct } = await import('./acts');
  onPage = 'alt="After going live"';
  await survey();
  expect(await place()).toMatchObject({ words: null, conflicts: [] });
  await keep('A new text', 'live-1');
  await undoAct(c.id, act('live-1'));
  expect((await place()).words).toBeNull();
});

test('the same two texts at several places of a picture are one choice', async () => {
  const { chooseText, saveWords } = await import('./wordings');
  const { undoAct } = await import('./acts');
  const { openConflicts } = await import('./conflicts');
  const { database } = await import('../db/database');
  const { appearance } = await import('../db/schema');
  onPage = 'alt="Pair"><img src="dot.gif" alt="Pair"';
  await survey();
  const db = await database();
  const rows = () => db.select().from(appearance).where(eq(appearance.gone, false)).orderBy(appearance.id);
  const appearanceIds = (await rows()).map((r) => r.id);
  expect(appearanceIds).toHaveLength(2);
  const since = (await place()).revision;
  const write = (text: string) =>
    saveWords({ collectionId: c.id, appearanceIds, text, act: act(`pair ${text}`), by: 'person', since });
  await write('One');
  const late = await write('Other');
  expect(late.conflicts).toMatchObject([{ places: 2, theirs: 'One', ours: 'Other' }]);
  await chooseText(c.id, late.conflicts[0]!.id, 'ours', act('pair-choice'));
  expect((await rows()).map((r) => r.words)).toEqual(['Other', 'Other']);
  expect(await openConflicts(db, c.id)).toEqual([]);
  await undoAct(c.id, act('pair-choice'));
  expect((await rows()).map((r) => r.words)).toEqual(['One', 'One']);
  expect(await openConflicts(db, c.id)).toMatchObject([{ places: 2 }]);
});
