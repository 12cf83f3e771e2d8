import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { jest } from '@jest/globals';
import { and, eq } from 'drizzle-orm';

/** The server actions on a real database: what a browser sends is checked, done, and answered in words. */
const folder = mkdtempSync(path.join(tmpdir(), 'detto-actions-'));
process.env['DETTO_DATA'] = path.join(folder, 'data');

class Redirect extends Error {}
const revalidated: string[] = [];
jest.unstable_mockModule('next/navigation', () => ({
  redirect: (to: string) => {
    throw new Redirect(to);
  },
}));
jest.unstable_mockModule('next/cache', () => ({ revalidatePath: (at: string) => void revalidated.push(at) }));

// Before the database, because several test files link these at the same time.
await import('@/server/db/schema');
const { closeDatabase, database } = await import('@/server/db/database');
const { appearance, finding, page, picture, wording } = await import('@/server/db/schema');
const { collectionById } = await import('@/server/catalogue/collections');
const { jobsIdle, startJobs, stopJobs } = await import('@/server/pipeline/pipeline');
const { surveyOver } = await import('@/server/survey/surveys');
const { latestSurvey, surveyProgress } = await import('@/server/survey/survey-progress');
const { undoAct } = await import('@/server/wordings/acts');
const { PUT: putWording } = await import('./api/collections/[collection]/wordings/route');
const actions = await import('./actions');

const DOT = Buffer.from('R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7', 'base64');
const ID = 'isle';
const form = (fields: Record<string, string>) => {
  const data = new FormData();
  for (const [name, value] of Object.entries(fields)) data.set(name, value);
  return data;
};
/** Where an action leads; fails where it does not lead anywhere. */
const leadsTo = async (action: Promise<unknown>): Promise<string> =>
  action.then(
    () => 'nowhere',
    (error: unknown) => {
      if (error instanceof Redirect) return error.message;
      throw error;
    },
  );

/** Sends words as the interface does. */
async function keep(asked: object) {
  const request = new Request('http://127.0.0.1/', {
    headers: { host: '127.0.0.1' },
    method: 'PUT',
    body: JSON.stringify(asked),
  });
  const response = await putWording(request, { params: Promise.resolve({ collection: ID }) });
  return { status: response.status, ...((await response.json()) as { error?: string }) };
}

interface Place {
  id: number;
  pictureId: number;
  path: string;
  state: string;
  words: string | null;
  purpose: string;
}
const places = async (): Promise<Place[]> => {
  const { id, pictureId, state, words, purpose } = appearance;
  const rows = await (
    await database()
  )
    .select({ id, pictureId, path: page.path, state, words, purpose })
    .from(appearance)
    .innerJoin(page, eq(page.id, appearance.pageId))
    .orderBy(page.path, appearance.position);
  return rows;
};
const at = async (file: string): Promise<Place> => (await places()).find((p) => p.path === file)!;

beforeAll(async () => {
  const site = path.join(folder, 'isle');
  mkdirSync(site);
  writeFileSync(path.join(site, 'dot.gif'), DOT);
  writeFileSync(path.join(site, 'a.html'), '<html lang="en"><title>A</title><p>Text</p><img src="dot.gif">');
  writeFileSync(path.join(site, 'b.html'), '<html lang="en"><title>B</title><a href="a.html"><img src="dot.gif"></a>');
  writeFileSync(
    path.join(site, 'c.html'),
    '<html lang="en"><title>C</title><img src="dot.gif" alt="A gull on the raling">',
  );
  startJobs(['survey', 'audit', 'recheck']);
  expect(await leadsTo(actions.survey({ error: null }, form({ kind: 'folder', where: site })))).toBe(`/c/${ID}/survey`);
  await jobsIdle();
});
afterAll(async () => {
  await stopJobs();
  await closeDatabase();
  rmSync(folder, { recursive: true, force: true });
});

describe('what is put on the shelf', () => {
  test.each([
    [{ kind: 'folder', where: '/no/such/folder' }, /no such folder|not a folder|There is no/i],
    [{ kind: 'site', where: 'not an address' }, /is not a web address/],
    [{ kind: 'site', where: '' }, /Say where the pages are|expected string|Invalid/],
    [{ kind: 'boat', where: 'x' }, /./],
  ])('%j is refused in words', async (fields, says) => {
    const { error } = await actions.survey({ error: null }, form(fields));
    expect(error).toMatch(says);
  });

  test('a collection is surveyed again, stopped and resumed', async () => {
    expect(await leadsTo(actions.surveyAgain(form({ collection: ID })))).toBe(`/c/${ID}/survey`);
    const survey = (await latestSurvey(ID))!;
    await actions.stop(survey);
    expect((await surveyProgress(survey))!.state).not.toBe('running');
    await actions.goOn(survey);
    await surveyOver(survey);
    expect((await surveyProgress(survey))!.state).toBe('done');
    await expect(actions.stop(-1)).rejects.toThrow();
  });

  test('limits of a folder are kept for its next survey; those of nothing are refused', async () => {
    expect(await actions.saveLimits({ error: null }, form({ collection: 'nothing' }))).toEqual({
      error: 'There is no such collection.',
    });
  });
});

describe('words', () => {
  test('are saved at a place, and undone by their act', async () => {
    const a = await at('a.html');
    const kept = await keep({ target: { kind: 'places', places: [a.id] }, text: 'One dot', act: 'act-keep-1' });
    expect(kept).toMatchObject({ status: 200, conflicts: [] });
    expect(await at('a.html')).toMatchObject({ words: 'One dot', state: 'described' });
    await undoAct(ID, 'act-keep-1');
    expect(await at('a.html')).toMatchObject({ words: null, state: 'missing' });
  });

  test('marking a picture decorative passes over the link that it names', async () => {
    const { pictureId } = await at('a.html');
    const target = { kind: 'pictures' as const, pictures: [pictureId] };
    await keep({ target, text: '', act: 'act-decorative' });
    expect((await places()).map((p) => p.state)).toEqual(['decorative', 'missing', 'decorative']);
    await undoAct(ID, 'act-decorative');
    expect((await places()).map((p) => p.state)).toEqual(['missing', 'missing', 'described']);
  });

  test.each([
    ['an act that is too short', { act: 'x' }],
    ['a text that is too long', { text: 'x'.repeat(20_001) }],
    ['no place', { target: { kind: 'places', places: [] } }],
    ['somebody who is neither person nor drafter', { by: 'page' }],
  ])('%s is refused, and nothing is saved', async (_, wrong) => {
    const before = await (await database()).select().from(wording);
    const { status, error } = await keep({
      ...{ target: { kind: 'places', places: [1] }, text: 'x', act: 'act-wrong-1' },
      ...wrong,
    });
    expect([status, typeof error]).toEqual([400, 'string']);
    expect(await (await database()).select().from(wording)).toHaveLength(before.length);
  });

  test('drafts are made where words are missing, and accepted or rejected', async () => {
    const { pictureId } = await at('a.html');
    const target = { kind: 'pictures' as const, pictures: [pictureId] };
    const { drafted, of } = await actions.draft(ID, target, 'act-draft-1');
    expect(of).toBe(2);
    expect(drafted).toBeGreaterThan(0);
    expect((await places()).every((p) => p.words === null)).toBe(true);
    expect(await actions.answerDrafts(ID, target, 'reject', 'act-reject-1')).toBe(drafted);
    await actions.draft(ID, target, 'act-draft-2');
    expect(await actions.answerDrafts(ID, target, 'accept', 'act-accept-1')).toBe(drafted);
    expect((await places()).filter((p) => p.words !== null)).toHaveLength(drafted);
    await undoAct(ID, 'act-accept-1');
    expect((await places()).every((p) => p.words === null)).toBe(true);
  });

  test('a choice between two texts that nobody has to make is none', async () =>
    expect(await actions.choose(ID, 4711, 'ours', 'act-choose-1')).toBe(false));
});

describe('what editors decide', () => {
  const open = async (rule: string) =>
    (
      await (
        await database()
      )
        .select({ id: finding.id })
        .from(finding)
        .where(and(eq(finding.rule, rule), eq(finding.ignored, false)))
    ).length;

  test('a purpose is set by an editor, and only one that there is', async () => {
    const c = await at('c.html');
    expect(await actions.settle(ID, [c.id], 'decorative', 'act-purpose-1')).toBe(1);
    expect((await at('c.html')).purpose).toBe('decorative');
    await expect(actions.settle(ID, [c.id], 'lovely', 'act-purpose-2')).rejects.toThrow();
    await undoAct(ID, 'act-purpose-1');
    await actions.settle(ID, [c.id], 'informative', 'act-purpose-3');
  });

  test('a finding is ignored with a reason, and brought back', async () => {
    const c = await at('c.html');
    const target = { kind: 'places' as const, places: [c.id] };
    const aside = { rule: 'misspelt', reason: 'A dialect word', by: 'Ann', act: 'act-ignore-1' };
    expect(await open('misspelt')).toBe(1);
    expect(await actions.ignoreFinding(ID, target, aside)).toBe(1);
    expect(await open('misspelt')).toBe(0);
    await expect(actions.ignoreFinding(ID, target, { ...aside, reason: '   ' })).rejects.toThrow();
    await actions.bringBack(ID, c.id, 'misspelt', 'act-again-1');
    expect(await open('misspelt')).toBe(1);
  });

  test('a word becomes known to the house', async () => {
    await actions.acceptWord(ID, 'raling', 'act-word-1');
    expect(await open('misspelt')).toBe(0);
    expect((await collectionById(ID))!.style['misspelt']).toEqual({ parameters: { words: ['raling'] } });
  });

  test('a house style is counted before it is saved, read from a file, and refused where it is wrong', async () => {
    const style = { 'no-alt': { off: true } };
    const { effects } = await actions.effectOf(ID, style);
    expect(effects.find((e) => e.rule === 'no-alt')).toMatchObject({ after: 0 });
    await actions.saveHouseStyleFile(ID, style, 'act-style-1');
    await jobsIdle();
    expect(await open('no-alt')).toBe(0);
    expect(await open('unnamed-control')).toBe(1);
    const file = { format: 'detto-house-style', version: 1, rules: { overlong: { parameters: { limit: 80 } } } };
    expect(await actions.readStyle(JSON.stringify(file))).toEqual({
      style: { overlong: { parameters: { limit: 80 } } },
    });
    expect(await actions.readStyle('{')).toEqual({ error: expect.stringContaining('The file is not JSON') });
    await expect(actions.saveHouseStyleFile(ID, { 'no-such-rule': { off: true } }, 'act-style-2')).rejects.toThrow(
      'no-such-rule',
    );
  });

  test('credit and the place of the long description belong to the picture', async () => {
    const { pictureId } = await at('a.html');
    const credit = { credit: 'Ann Rendall', licence: 'CC BY 4.0', source: '' };
    await actions.recordCredit(ID, pictureId, credit, 'act-credit-1');
    await actions.placeLong(ID, pictureId, { stand: 'below', tie: 'aria-describedby' }, 'act-place-1');
    const [row] = await (await database()).select().from(picture).where(eq(picture.id, pictureId));
    expect(row).toMatchObject({
      longPlacement: { stand: 'below', tie: 'aria-describedby' },
      credit: { credit: 'Ann Rendall' },
    });
  });
});

test('a collection is taken off the shelf with all its words', async () => {
  await actions.renameCollection(form({ collection: ID, name: '  Another name ' }));
  expect((await collectionById(ID))!.name).toBe('Another name');
  await expect(actions.renameCollection(form({ collection: ID, name: '   ' }))).rejects.toThrow();
  await actions.takeOffTheShelf(form({ collection: ID }));
  expect(await collectionById(ID)).toBeNull();
  expect(await places()).toEqual([]);
  expect(revalidated).toContain('/');
});
