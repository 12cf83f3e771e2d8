import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { and, eq } from 'drizzle-orm';
import sharp from 'sharp';
import type { RoundOrder } from '@/contract/drafting';
import { DEMO_KEY, DEMO_MODEL, draftingService } from '../../../demo/drafting-service';

/** Rounds against a service that really answers, fails, and counts: what is asked, kept, paid, and what a person sees of it. */
const folder = mkdtempSync(path.join(tmpdir(), 'detto-rounds-'));
const service = draftingService(null);
await new Promise<void>((resolve) => service.listen(0, '127.0.0.1', resolve));
const { port } = service.address() as AddressInfo;
process.env['DETTO_DATA'] = path.join(folder, 'data');
process.env['DETTO_ALLOW_HOSTS'] = `127.0.0.1:${port}`;
const site = path.join(folder, 'site');
mkdirSync(site);
const COUNT = 12;
for (let i = 0; i < COUNT; i++)
  writeFileSync(
    path.join(site, `p${i}.png`),
    await sharp({ create: { width: 80 + i, height: 60, channels: 3, background: { r: 20 * i, g: 90, b: 160 } } })
      .png()
      .toBuffer(),
  );
const images = Array.from(
  { length: COUNT },
  (_, i) => `<p>About number ${i}.</p><img src="p${i}.png" width=400 height=300>`,
);
writeFileSync(path.join(site, 'index.html'), `<html lang="en"><title>Pictures in tones</title>${images.join('')}`);
// The first again in a like context, and with words.
writeFileSync(
  path.join(site, 'more.html'),
  `<html lang="en"><title>More</title>${images[0]}<img src="p1.png" alt="Blue sea">`,
);

await import('../db/schema');
const { closeDatabase, database } = await import('../db/database');
const { appearance, draftingService: serviceTable, round, roundItem, wording } = await import('../db/schema');
const { insertCollection } = await import('../catalogue/collections');
const { jobsIdle, startJobs, stopJobs } = await import('../pipeline/pipeline');
const { startSurvey, surveyOver } = await import('../survey/surveys');
const { undoAct } = await import('../wordings/acts');
const { saveWords } = await import('../wordings/wordings');
const { addService, changeService, listServices } = await import('./services');
const { estimateRound, listRounds, pauseRound, resumeRound, retryFailures, startRound, stopRound } =
  await import('./rounds');
const { acceptClean, decideDrafts, draftPage, draftingFigures, readingList } = await import('./reading');
const { draftNow } = await import('./single-drafts');
const { monthlyBudget } = await import('./ledger');
const { EVERYTHING } = await import('@/contract/galley');
const { RoundOrder: Order, ServiceSettings } = await import('@/contract/drafting');

const ALL = { kind: 'view' as const, view: EVERYTHING, except: [] };
const ANY = { round: null, order: 'surest' as const };
let collection: string;
let id: number;

const settings = (more: object = {}) =>
  ServiceSettings.parse({
    name: 'Harbour',
    address: `http://127.0.0.1:${port}/v1`,
    model: DEMO_MODEL,
    key: DEMO_KEY,
    priceIn: 2.5,
    priceOut: 10,
    perMinute: 60_000,
    timeoutSeconds: 5,
    ...more,
  });
const control = async (body: object = { reset: true }) =>
  (await (await fetch(`http://127.0.0.1:${port}/control`, { method: 'POST', body: JSON.stringify(body) })).json()) as {
    requests: number;
    answered: number;
    repeated: number;
    pictures: Record<string, number>;
    atOnce: number;
  };
const order = (more: Partial<RoundOrder> = {}) => Order.parse({ target: ALL, service: id, ...more });
const roundNow = async (of: number) => (await listRounds(collection)).find((r) => r.id === of)!;
const over = async (of: number) => {
  await jobsIdle();
  return roundNow(of);
};
const drafts = async () => {
  const db = await database();
  return db
    .select()
    .from(wording)
    .where(and(eq(wording.collectionId, collection), eq(wording.state, 'draft')));
};
const clear = async () => {
  for (const r of await listRounds(collection)) await undoAct(collection, r.act);
  const db = await database();
  await db.delete(round);
  await control({ reset: true, fault: null, delayMs: 0, balance: 5 });
};

beforeAll(async () => {
  startJobs(['survey', 'audit', 'analysis', 'conclusions', 'recheck', 'rounds']);
  const c = await insertCollection({ name: 'Tones', kind: 'folder', root: site, maxPages: 9, maxDepth: 9 });
  collection = c.id;
  await surveyOver(await startSurvey(c.id));
  await jobsIdle();
  id = await addService(settings());
});
beforeEach(clear);
afterAll(async () => {
  await stopJobs();
  await closeDatabase();
  service.close();
  rmSync(folder, { recursive: true, force: true });
});

test('an estimate says how many, what is left out, what it costs and what would be sent', async () => {
  const estimate = await estimateRound(collection, order());
  // The picture that stands in two like contexts is asked about once.
  expect(estimate).toMatchObject({ pictures: COUNT, places: COUNT + 1, requests: COUNT, needsConsent: false });
  expect(estimate.leftOut).toEqual([{ why: 'has-text', places: 1 }]);
  expect(estimate.cost).toMatchObject({ currency: 'EUR' });
  expect(estimate.sends).toMatchObject({ host: `127.0.0.1:${port}` });
  expect(estimate.sends!.prompt).toContain('<page-data>');
  const offline = await estimateRound(collection, order({ service: null }));
  expect(offline).toMatchObject({ cost: null, sends: null });
  expect((await control()).requests).toBe(0);
});

test('a round asks about each picture once, keeps drafts with their origin and cost, and is undone by one act', async () => {
  const own = await startRound(collection, order(), false);
  expect(await over(own)).toMatchObject({
    state: 'done',
    total: COUNT,
    drafted: COUNT,
    failures: [],
    toRead: COUNT + 1,
  });
  const counts = await control({});
  expect(counts).toMatchObject({ answered: COUNT, repeated: 0 });
  expect(Object.values(counts.pictures)).toEqual(Array(COUNT).fill(1));
  const [draft] = await drafts();
  expect(draft!.draft).toMatchObject({
    origin: { service: 'Harbour', model: DEMO_MODEL, prompt: '1.0', currency: 'EUR' },
  });
  expect(draft!.draft!.origin.cost).toBeGreaterThan(0);
  expect((await roundNow(own)).spent).toBeCloseTo((await listServices())[0]!.spent, 8);
  await undoAct(collection, (await roundNow(own)).act);
  expect(await drafts()).toEqual([]);
});

test('a key that is refused and a credit that is used up wait for a person, and nothing counts as failed', async () => {
  for (const fault of ['401', '402'] as const) {
    await clear();
    await control({ fault, times: 1_000 });
    const own = await startRound(collection, order(), false);
    const seen = await over(own);
    expect(seen).toMatchObject({ state: 'paused', done: 0, failures: [] });
    expect(seen.reason!.id).toBe(fault === '401' ? 'drafting.key-refused' : 'drafting.balance');
    await control({ fault: null });
    await resumeRound(collection, own);
    expect(await over(own)).toMatchObject({ state: 'done', drafted: COUNT });
  }
});

test('a service that asks to be left alone is left alone by all, and then asked on', async () => {
  await control({ fault: '429', times: 3, retryAfter: 1 });
  const begun = performance.now();
  const own = await startRound(collection, order(), false);
  expect(await over(own)).toMatchObject({ state: 'done', drafted: COUNT, failures: [] });
  expect(performance.now() - begun).toBeGreaterThan(900);
  // Those under way when it said so, and no storm after.
  expect((await control({})).requests).toBeLessThanOrEqual(COUNT + 3);
});

test('what fails and what cannot be read is said by reason, and asked again when a person wants that', async () => {
  await control({ fault: 'malformed', times: 2 });
  const one = await draftNow(collection, [(await placeOf('p3.png'))!], {
    service: id,
    hint: null,
    act: 'act-single-1',
  }).catch((error: { reason: object }) => error.reason);
  expect(one).toMatchObject({ id: 'drafting.unreadable' });
  // Asked once more, and no third time.
  expect((await control({ reset: true })).requests).toBe(0);
  await control({ fault: 'prose', times: 2 * COUNT });
  const own = await startRound(collection, order(), false);
  const seen = await over(own);
  expect(seen).toMatchObject({
    state: 'done',
    drafted: 0,
    failures: [{ reason: { id: 'drafting.unreadable' }, items: COUNT }],
  });
  expect((await control({})).requests).toBe(2 * COUNT);
  await retryFailures(collection, own);
  expect(await over(own)).toMatchObject({ state: 'done', drafted: COUNT, failures: [] });
});

test('an answer that is cut off, or a server that fails, is asked again', async () => {
  for (const fault of ['cut', '500'] as const) {
    await clear();
    await control({ fault, times: 2 });
    expect(await over(await startRound(collection, order(), false))).toMatchObject({ state: 'done', drafted: COUNT });
  }
});

test('a budget stops a round before it is spent, and the month’s budget holds over several rounds', async () => {
  // Some answers, so that the cost of one is known.
  await over(await startRound(collection, order(), false));
  const each = (await listRounds(collection))[0]!.spent / COUNT;
  await clear();
  const budget = each * 4.5;
  const own = await startRound(collection, order({ budget }), false);
  const seen = await over(own);
  expect(seen).toMatchObject({ state: 'paused', reason: { id: 'round.budget' } });
  expect(seen.spent).toBeLessThanOrEqual(budget);
  expect(seen.done).toBeGreaterThanOrEqual(3);
  await clear();
  const db = await database();
  const { spent } = (await listServices())[0]!;
  await db.update(serviceTable).set({ monthlyBudget: spent + each * 5.5 });
  const both = [
    await startRound(collection, order(), false),
    await startRound(collection, order({ existing: 'replace' }), false),
  ];
  await jobsIdle();
  for (const r of both) expect((await roundNow(r)).reason).toMatchObject({ id: 'round.monthly-budget' });
  expect((await listServices())[0]!.spent).toBeLessThanOrEqual(spent + each * 5.5);
  await db.update(serviceTable).set({ monthlyBudget: null });
});

test('paused, nothing more is asked; stopped, it is over; a single draft overtakes a round', async () => {
  await changeService(id, settings({ atOnce: 2 }));
  await control({ delayMs: 150 });
  const own = await startRound(collection, order(), false);
  await until(async () => (await roundNow(own)).done >= 2);
  const single = await draftNow(collection, [(await placeOf('p1.png', 'Blue sea'))!], {
    service: id,
    hint: null,
    act: 'act-single-2',
  });
  expect(single).not.toBeNull();
  expect((await roundNow(own)).state).toBe('running');
  await pauseRound(collection, own);
  // As when it had paused by itself meanwhile.
  await pauseRound(collection, own);
  await jobsIdle();
  const { requests } = await control({});
  await new Promise((resolve) => setTimeout(resolve, 400));
  expect((await control({})).requests).toBe(requests);
  expect(await roundNow(own)).toMatchObject({ state: 'paused', reason: { id: 'round.by-editor' } });
  await resumeRound(collection, own);
  await stopRound(collection, own);
  expect(await over(own)).toMatchObject({ state: 'stopped' });
  await expect(resumeRound(collection, own)).rejects.toThrow('over or gone');
  await undoAct(collection, 'act-single-2');
  await changeService(id, settings());
});

test('what was under way when the process ended is asked again under its key, and is not paid twice', async () => {
  const own = await startRound(collection, order(), false);
  await over(own);
  const db = await database();
  // As after a kill between the answer and its being kept.
  await undoAct(collection, (await roundNow(own)).act);
  await db.update(roundItem).set({ state: 'asking' });
  await db.update(round).set({ state: 'running' });
  const { enqueue } = await import('../jobs/queue');
  await enqueue('rounds', { collectionId: collection });
  expect(await over(own)).toMatchObject({ state: 'done', drafted: COUNT });
  expect(await control({})).toMatchObject({ answered: COUNT, repeated: COUNT });
});

test('drafts are read: accepted, edited, rejected with a reason; the sample comes first; each is one undo', async () => {
  await over(await startRound(collection, order(), false));
  const { items } = await readingList(collection, ANY);
  expect(items).toHaveLength(COUNT);
  const page = (await draftPage(collection, items[0]!.id))!;
  expect(page).toMatchObject({ state: 'missing', limit: 100, record: { origin: { service: 'Harbour' } } });
  await expect(acceptClean(collection, ANY, null, 'act-clean-0')).rejects.toThrow('Read at least 5');
  expect(await decideDrafts(collection, items[0]!.ids, { kind: 'accept', by: 'Ada' }, 'act-read-01')).toBe(
    items[0]!.ids.length,
  );
  expect(
    await decideDrafts(
      collection,
      items[1]!.ids,
      { kind: 'accept', text: `${items[1]!.text} today`, by: null },
      'act-read-02',
    ),
  ).toBe(items[1]!.ids.length);
  expect(await decideDrafts(collection, items[2]!.ids, { kind: 'reject', reason: 'too-vague' }, 'act-read-03')).toBe(
    items[2]!.ids.length,
  );
  expect(await decideDrafts(collection, items[3]!.ids, { kind: 'decorative', by: null }, 'act-read-04')).toBe(
    items[3]!.ids.length,
  );
  await expect(
    decideDrafts(collection, items[4]!.ids, { kind: 'accept', text: 'A ‹what?› at sea', by: null }, 'act-read-05'),
  ).rejects.toThrow('still asks “what?”');
  expect(await decideDrafts(collection, items[4]!.ids, { kind: 'accept', by: null }, 'act-read-06')).toBeGreaterThan(0);
  const [figures] = await draftingFigures(collection);
  expect(figures).toMatchObject({ drafter: 'Harbour', model: DEMO_MODEL, prompt: '1.0', edited: items[1]!.ids.length });
  expect(figures!.reasons).toEqual([{ reason: 'too-vague', drafts: items[2]!.ids.length }]);
  expect(figures!.changed).toBeGreaterThan(0);
  const db = await database();
  const [accepted] = await db.select().from(wording).where(eq(wording.act, 'act-read-01'));
  expect(accepted).toMatchObject({ by: 'drafter', draft: { accepted: { by: 'Ada', changed: 0 } } });
  const [edited] = await db.select().from(wording).where(eq(wording.act, 'act-read-02'));
  expect(edited).toMatchObject({ by: 'person', draft: { accepted: { drafted: items[1]!.text } } });
  await undoAct(collection, 'act-read-03');
  expect((await readingList(collection, ANY)).items.map((i) => i.id)).toContain(items[2]!.id);
  for (const act of ['act-read-01', 'act-read-02', 'act-read-04', 'act-read-06']) await undoAct(collection, act);
});

test('a draft with gaps is not accepted as it stands, and no text with one is saved', async () => {
  const place = (await placeOf('p2.png'))!;
  await expect(
    saveWords({
      collectionId: collection,
      appearanceIds: [place],
      text: '‹who?› on deck',
      act: 'act-gaps-01',
      by: 'person',
    }),
  ).rejects.toThrow('still asks “who?”');
});

test('whatever asks at the same time, a monthly budget is never gone over', async () => {
  const own = await addService(settings({ name: 'Purse', monthlyBudget: 1 }));
  const payment = { serviceId: own, collectionId: null, roundId: null, most: 0.1 };
  const asked = await Promise.allSettled(Array.from({ length: 25 }, () => monthlyBudget.reserve(payment)));
  const given = asked.flatMap((a) => (a.status === 'fulfilled' ? [a.value] : []));
  expect(given).toHaveLength(10);
  for (const a of asked) if (a.status === 'rejected') expect(a.reason).toMatchObject({ code: 'budget' });
  // What cost less, or nothing, leaves room for others.
  await given[0]!.settle(10, 10, 0.04);
  await given[1]!.release();
  await monthlyBudget.reserve(payment);
  await expect(monthlyBudget.reserve(payment)).rejects.toMatchObject({ code: 'budget' });
  // A budget that was changed meanwhile counts as it is now.
  await changeService(own, settings({ name: 'Purse', monthlyBudget: 0.5 }));
  await expect(monthlyBudget.reserve({ ...payment, most: 0.01 })).rejects.toMatchObject({ code: 'budget' });
});

test('no key, no picture and no text of a page is in what a service is shown as, or in its row', async () => {
  const [shown] = await listServices();
  expect(JSON.stringify(shown)).not.toContain(DEMO_KEY);
  const db = await database();
  const [row] = await db.select().from(serviceTable);
  expect(row!.key).not.toContain(DEMO_KEY);
  await expect(
    changeService(id, { ...settings({ address: 'https://elsewhere.example/v1' }), key: undefined }),
  ).rejects.toThrow('leads to another host');
});

async function placeOf(src: string, alt?: string): Promise<number | undefined> {
  const db = await database();
  const rows = await db.select({ id: appearance.id, reading: appearance.reading }).from(appearance);
  return rows.find((r) => r.reading.markup.src === src && (alt === undefined || r.reading.markup.alt === alt))?.id;
}

async function until(holds: () => Promise<boolean>): Promise<void> {
  for (let i = 0; i < 200; i++) {
    if (await holds()) return;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error('It did not come to that.');
}
