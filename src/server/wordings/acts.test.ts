import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { asc, eq } from 'drizzle-orm';
import { gif } from '../testing/site';

/** Whatever an act did is undone and done again as a whole, over pictures and pages, and open windows hear of it. */
const folder = mkdtempSync(path.join(tmpdir(), 'detto-acts-'));
process.env['DETTO_DATA'] = path.join(folder, 'data');
await import('../db/schema');
const { closeDatabase, database } = await import('../db/database');
const { appearance, page, picture, wording } = await import('../db/schema');
const { insertCollection, collectionById } = await import('../catalogue/collections');
const { recordCredit } = await import('../catalogue/credit');
const { onChange } = await import('../changes');
const { acceptWord } = await import('../audit/house-style');
const { bringBack, countIgnored, ignoreFindings } = await import('../audit/ignored');
const { draftAppearances } = await import('../drafting/drafts');
const { leaveOut } = await import('../delivery/leave-out');
const { jobsIdle, startJobs, stopJobs } = await import('../pipeline/pipeline');
const { startSurvey, surveyOver } = await import('../survey/surveys');
const { redoAct, undoAct } = await import('./acts');
const { placeLongDescription, showCreditLine } = await import('../catalogue/placement');
const { saveFieldText } = await import('./field-texts');
const { acceptDrafts, chooseText, rejectDrafts, saveTexts, saveWords, settlePurpose } = await import('./wordings');
const { openConflicts } = await import('./conflicts');

let id: string;
let places: number[];
let pictureId: number;
beforeAll(async () => {
  const root = path.join(folder, 'site');
  mkdirSync(root);
  writeFileSync(path.join(root, 'red-bicycle.gif'), gif(300, 200));
  for (const name of ['a', 'b', 'c'])
    writeFileSync(
      path.join(root, `${name}.html`),
      '<html lang="en"><title>P</title><p>A red bicycle.</p><img src="red-bicycle.gif">',
    );
  startJobs(['survey', 'audit', 'recheck']);
  const c = await insertCollection({ name: 'Acts', kind: 'folder', root, maxPages: 9, maxDepth: 9 });
  id = c.id;
  await surveyOver(await startSurvey(id));
  await jobsIdle();
  const rows = await (
    await database()
  )
    .select({ id: appearance.id, pictureId: appearance.pictureId })
    .from(appearance)
    .innerJoin(page, eq(page.id, appearance.pageId))
    .orderBy(asc(page.path));
  places = rows.map((r) => r.id);
  pictureId = rows[0]!.pictureId;
});
afterAll(async () => {
  await stopJobs();
  await closeDatabase();
  rmSync(folder, { recursive: true, force: true });
});

const column = async <K extends keyof typeof appearance.$inferSelect>(key: K) => {
  const rows = await (await database()).select().from(appearance);
  return places.map((place) => rows.find((r) => r.id === place)![key]);
};
const drafts = async () =>
  (await (await database()).select().from(wording).where(eq(wording.state, 'draft'))).map((w) => w.appearanceId).sort();
const person = { by: 'person' as const };

/** Undoes and redoes an act, and expects what stood before and after it each time. */
async function turns<T>(act: string, state: () => Promise<T>, before: T): Promise<void> {
  const after = await state();
  expect(after).not.toEqual(before);
  for (let i = 0; i < 2; i++) {
    expect(await undoAct(id, act)).toBeGreaterThan(0);
    expect(await state()).toEqual(before);
    expect(await redoAct(id, act)).toBeGreaterThan(0);
    expect(await state()).toEqual(after);
  }
  await undoAct(id, act);
}

test('texts, each its own, are one act; undone twice is undone once', async () => {
  const texts = places.map((appearanceId, i) => ({ appearanceId, text: `Red bicycle ${i}` }));
  await saveTexts({ collectionId: id, act: 'act-texts', texts, isWhole: true, ...person });
  expect(await column('words')).toEqual(['Red bicycle 0', 'Red bicycle 1', 'Red bicycle 2']);
  await turns('act-texts', () => column('words'), [null, null, null]);
  expect(await undoAct(id, 'act-texts')).toBe(0);
  expect(await redoAct(id, 'no-such-act')).toBe(0);
});

test('one part of an act after the other: what came before stays', async () => {
  for (const [i, appearanceId] of places.entries())
    await saveTexts({
      collectionId: id,
      act: 'act-parts',
      texts: [{ appearanceId, text: `${i}` }],
      isWhole: false,
      ...person,
    });
  await turns('act-parts', () => column('words'), [null, null, null]);
});

test('a draft that was accepted or rejected waits again; redone, it does not', async () => {
  await draftAppearances(id, places, 'act-drafts');
  const waiting = await drafts();
  expect(waiting).toHaveLength(3);
  expect(await acceptDrafts(id, places, 'act-accept')).toBe(3);
  await turns('act-accept', async () => [await column('words'), await drafts()], [[null, null, null], waiting]);
  expect(await rejectDrafts(id, places.slice(0, 2), 'act-reject')).toBe(2);
  await turns('act-reject', drafts, waiting);
  // Who writes words has read the draft; undone, it is there again.
  await saveWords({ collectionId: id, appearanceIds: [places[0]!], text: 'My own', act: 'act-own', ...person });
  await turns('act-own', drafts, waiting);
  await turns('act-drafts', drafts, []).catch(() => undefined);
  await undoAct(id, 'act-drafts');
  expect(await drafts()).toEqual([]);
});

test('purposes, credits, words of the house and what is left out of a delivery are undone as well', async () => {
  await settlePurpose(id, places, 'complex', 'act-purpose');
  await turns('act-purpose', () => column('purpose'), ['informative', 'informative', 'informative']);
  const credit = async () => (await (await database()).select().from(picture))[0]!.credit;
  await recordCredit(id, pictureId, { credit: 'Ann', licence: '', source: '' }, 'act-credit');
  await turns('act-credit', credit, null);
  const style = async () => (await collectionById(id))!.style;
  await acceptWord(id, 'raling', 'act-word');
  await turns('act-word', style, {});
  await leaveOut(id, [places[1]!], true, 'act-leave');
  await turns('act-leave', () => column('leftOut'), [false, false, false]);
});

test('what is ignored counts again, and what was shown again is ignored again', async () => {
  const count = () => countIgnored(id, 'no-alt');
  const aside = { collectionId: id, appearanceIds: places, rule: 'no-alt', reason: 'x', by: 'Ann' };
  expect(await ignoreFindings({ ...aside, act: 'act-ignore' })).toBe(3);
  await turns('act-ignore', count, 0);
  await redoAct(id, 'act-ignore');
  await bringBack(id, places, 'no-alt', 'act-again');
  await turns('act-again', count, 3);
  await undoAct(id, 'act-ignore');
});

test('a long description and where it stands come back as they were', async () => {
  const row = async () => (await (await database()).select().from(picture))[0]!;
  const kept = { collectionId: id, pictureId, places: [] };
  await saveFieldText({ ...kept, field: 'long-description', text: '## Parts', act: 'act-long' });
  await turns('act-long', async () => (await row()).longDescription, null);
  await placeLongDescription(id, pictureId, { stand: 'page', tie: 'aria-details' }, 'act-place');
  await turns('act-place', async () => (await row()).longPlacement, null);
});

test('titles, captions, credit lines and file names come back as they were', async () => {
  const kept = { collectionId: id, pictureId, places };
  await saveFieldText({ ...kept, field: 'title', text: 'A tooltip', act: 'act-title' });
  // Of an act that is kept again with fewer places, the others get back what they had.
  await saveFieldText({ ...kept, places: places.slice(0, 2), field: 'title', text: 'A tooltip', act: 'act-title' });
  expect(await column('title')).toEqual(['A tooltip', 'A tooltip', null]);
  await turns('act-title', () => column('title'), [null, null, null]);
  await saveFieldText({ ...kept, field: 'file-name', text: 'seal.gif', act: 'act-name' });
  await turns('act-name', async () => (await (await database()).select().from(picture))[0]!.fileName, null);
  await showCreditLine(id, places, true, 'act-line');
  await turns('act-line', () => column('creditLine'), [null, null, null]);
});

test('a choice between two texts is open again, and settled again; a third text can be chosen', async () => {
  const db = await database();
  const [place] = places;
  const since = (await collectionById(id))!.revision;
  await saveWords({ collectionId: id, appearanceIds: [place!], text: 'First', act: 'act-first', since, ...person });
  const { conflicts } = await saveWords({
    ...{ collectionId: id, appearanceIds: [place!], text: 'Second', act: 'act-second', since },
    ...person,
  });
  expect(conflicts).toHaveLength(1);
  expect(await chooseText(id, conflicts[0]!.id, { text: 'First and second' }, 'act-choose')).toBe(true);
  expect((await column('words'))[0]).toBe('First and second');
  await turns('act-choose', async () => [(await column('words'))[0], (await openConflicts(db, id)).length], [
    'First',
    1,
  ]);
  await redoAct(id, 'act-choose');
  expect(await chooseText(id, conflicts[0]!.id, 'ours', 'act-late-1')).toBe(false);
});

test('every window of the collection hears which pictures have changed, and those of another do not', async () => {
  const heard: unknown[] = [];
  const ends = [onChange(id, (c) => heard.push(c.pictures)), onChange('elsewhere', () => heard.push('elsewhere'))];
  await saveWords({ collectionId: id, appearanceIds: [places[2]!], text: 'Heard', act: 'act-heard', ...person });
  await undoAct(id, 'act-heard');
  expect(heard).toEqual([[pictureId], [pictureId]]);
  for (const end of ends) end();
  await redoAct(id, 'act-heard');
  expect(heard).toHaveLength(2);
});
