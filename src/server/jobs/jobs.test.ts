import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { sql } from 'drizzle-orm';
import type { Handlers, JobContext } from './worker';

/** Jobs stand in the database: none is lost or done twice, whatever ends the process, and one collection's do not collide. */
const folder = mkdtempSync(path.join(tmpdir(), 'detto-jobs-'));
process.env['DETTO_DATA'] = folder;

// Before the database, because several test files link these at the same time.
await import('../db/schema');
const { closeDatabase, database } = await import('../db/database');
const { insertCollection } = await import('../catalogue/collections');
const { enqueue, enqueueRecheck, fetchJobs, transactionWithJobs } = await import('./queue');
const { detailOf, noteOver, noteRunning, noteShare, noteWaiting, progressOf, requestStop } = await import('./progress');
const { JOB_KINDS } = await import('./kinds');
const { LocalClaims } = await import('./local-claims');
const { Worker } = await import('./worker');

const ids = ['one', 'two'];
beforeAll(async () => {
  for (const name of ids) await insertCollection({ name, kind: 'folder', root: folder, maxPages: 1, maxDepth: 1 });
});
afterAll(async () => {
  await closeDatabase();
  rmSync(folder, { recursive: true, force: true });
});
afterEach(async () => {
  await (await database()).execute(sql`delete from pgboss.job`);
  await (await database()).execute(sql`delete from job_progress`);
});

/** Handlers that note what begins and ends; `work` says what one does in between. */
function recorded(work: Partial<Record<keyof Handlers, (job: JobContext) => Promise<void>>> = {}) {
  const events: string[] = [];
  const handle = (kind: keyof Handlers) => async (payload: { collectionId: string }, job: JobContext) => {
    events.push(`${kind} ${payload.collectionId} begins`);
    await work[kind]?.(job);
    events.push(`${kind} ${payload.collectionId} ends`);
  };
  const kinds = ['survey', 'audit', 'analysis', 'recognition', 'conclusions', 'recheck', 'phrases'] as const;
  const handlers = Object.fromEntries(kinds.map((kind) => [kind, handle(kind)])) as unknown as Handlers;
  return { handlers, events };
}
const nothingLeft = async () => {};
const nobodyWaits = async () => {};
const pause = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms));
function deferred() {
  let resolve = () => {};
  const promise = new Promise<void>((done) => (resolve = done));
  return { promise, resolve: () => resolve() };
}
/** Waits for something that comes about by itself, however slow the machine is. */
async function until(holds: () => Promise<boolean> | boolean): Promise<void> {
  while (!(await holds())) await pause(20);
}
const waiting = async () =>
  (
    (await (
      await database()
    ).execute(sql`select name from pgboss.job where state < 'active' order by name`)) as unknown as {
      rows: { name: string }[];
    }
  ).rows.map((r) => r.name);

test('of those that wait with one key, one is enough; one that is enqueued during a run is done after it', async () => {
  const gate = deferred();
  const { handlers, events } = recorded({ audit: () => gate.promise });
  const worker = new Worker(handlers, nothingLeft, nobodyWaits);
  await enqueue('audit', { collectionId: 'one' });
  await enqueue('audit', { collectionId: 'one' });
  expect(await waiting()).toEqual(['audit']);
  worker.start();
  await until(() => events.length === 1);
  await enqueue('audit', { collectionId: 'one' });
  gate.resolve();
  await worker.idle();
  await worker.end();
  expect(events).toEqual(['audit one begins', 'audit one ends', 'audit one begins', 'audit one ends']);
  expect(await progressOf('one')).toEqual([]);
});

test('jobs of one lane run one after the other, those of another collection beside them', async () => {
  const gate = deferred();
  const { handlers, events } = recorded({ audit: () => gate.promise });
  const worker = new Worker(handlers, nothingLeft, nobodyWaits);
  await enqueue('audit', { collectionId: 'one' });
  await enqueue('audit', { collectionId: 'two' });
  await enqueue('recheck', { collectionId: 'one', rules: ['echo'] });
  worker.start();
  await until(() => events.length === 2);
  expect([...events].sort()).toEqual(['audit one begins', 'audit two begins']);
  gate.resolve();
  await worker.idle();
  await worker.end();
  expect(events.indexOf('recheck one begins')).toBeGreaterThan(events.indexOf('audit one ends'));
});

test('acts on many places that wait together are done one after the other, each of them', async () => {
  const acts: string[] = [];
  const { handlers } = recorded({});
  const bulk = async (payload: { act: string }) => void acts.push(payload.act);
  const worker = new Worker({ ...handlers, bulk }, nothingLeft, nobodyWaits);
  for (const act of ['a', 'b', 'c']) await enqueue('bulk', { collectionId: 'one', act }, { key: `one ${act}` });
  worker.start();
  await until(() => acts.length === 3);
  await worker.idle();
  await worker.end();
  expect([...acts].sort()).toEqual(['a', 'b', 'c']);
});

test('rechecks that wait together are one, with the rules of all', async () => {
  const rules: string[] = [];
  const gate = deferred();
  const { handlers, events } = recorded({ audit: () => gate.promise });
  const recheck = async (payload: { rules: readonly string[] }) => void rules.push(payload.rules.join('+'));
  const worker = new Worker({ ...handlers, recheck }, nothingLeft, nobodyWaits);
  await enqueue('audit', { collectionId: 'one' });
  worker.start();
  await until(() => events.length === 1);
  await enqueue('recheck', { collectionId: 'one', rules: ['echo'] }, { key: 'one echo' });
  await enqueue('recheck', { collectionId: 'one', rules: ['overlong'] }, { key: 'one overlong' });
  await until(async () => (await waiting()).length === 0);
  gate.resolve();
  await worker.idle();
  await worker.end();
  expect(rules.join()).toMatch(/^(echo\+overlong|overlong\+echo)$/);
});

test('what is enqueued in a transaction that fails was never there', async () => {
  await expect(
    transactionWithJobs('one', async (tx) => {
      await enqueue('audit', { collectionId: 'one' }, { tx });
      throw new Error('no');
    }),
  ).rejects.toThrow('no');
  expect(await waiting()).toEqual([]);
  expect(await progressOf('one')).toEqual([]);
});

test('what a killed process was doing is done by the next, once', async () => {
  await enqueue('analysis', { collectionId: 'one', surveyed: true });
  // Fetched, and never completed.
  expect(await fetchJobs('analysis', 1)).toHaveLength(1);
  expect(await waiting()).toEqual([]);
  const { handlers, events } = recorded();
  const worker = new Worker(handlers, nothingLeft, nobodyWaits, JOB_KINDS, new LocalClaims());
  worker.start();
  await worker.idle();
  await worker.end();
  expect(events).toEqual(['analysis one begins', 'analysis one ends']);
});

test('an orderly end puts back what runs and what waits for its lane', async () => {
  const untilAborted = ({ signal }: JobContext) =>
    new Promise<void>((resolve) => signal.addEventListener('abort', () => resolve()));
  const { handlers, events } = recorded({ analysis: untilAborted });
  const worker = new Worker(handlers, nothingLeft, nobodyWaits);
  await enqueue('analysis', { collectionId: 'one', surveyed: false });
  await enqueue('recognition', { collectionId: 'one' });
  worker.start();
  await until(async () => events.length === 1 && (await waiting()).length === 0);
  await worker.end();
  expect(events).toEqual(['analysis one begins', 'analysis one ends']);
  expect(await waiting()).toEqual(['analysis', 'recognition']);
});

test('an editor stops a job; it is over, and its signal says why', async () => {
  let reason: unknown;
  const { handlers } = recorded({
    survey: ({ signal }) =>
      new Promise<void>((resolve) =>
        signal.addEventListener('abort', () => {
          reason = signal.reason;
          resolve();
        }),
      ),
  });
  const worker = new Worker(handlers, nothingLeft, nobodyWaits);
  await enqueue('survey', { collectionId: 'one', surveyId: 1 });
  worker.start();
  await until(async () => (await progressOf('one'))[0]?.state === 'running');
  await requestStop('survey', 'one');
  await worker.idle();
  await worker.end();
  expect(reason).toBe('stopped');
  expect(await waiting()).toEqual([]);
});

test('how far a job is can be seen; one that fails waits to be tried again', async () => {
  const gate = deferred();
  const { handlers } = recorded({
    audit: async ({ report }) => {
      report(0.25);
      await gate.promise;
      throw new Error('refused');
    },
  });
  const worker = new Worker(handlers, nothingLeft, nobodyWaits);
  await enqueue('audit', { collectionId: 'two' });
  worker.start();
  await until(async () => (await progressOf('two'))[0]?.share === 0.25);
  gate.resolve();
  await until(async () => (await waiting()).length === 1);
  await worker.end();
});

test('where the queue cannot be written to at the start, it is tried again, and what was left is taken up then', async () => {
  const { handlers, events } = recorded();
  let attempts = 0;
  const worker = new Worker(
    handlers,
    async () => {
      if (++attempts === 1) throw new Error('The disk is full.');
      await enqueue('audit', { collectionId: 'one' });
    },
    nobodyWaits,
  );
  worker.start();
  await until(() => events.length === 2);
  await worker.end();
  expect(attempts).toBe(2);
});

test('what waits for a job learns that it is given up, once it has failed as often as it may', async () => {
  const { handlers } = recorded({
    survey: async () => {
      throw new Error('no room');
    },
  });
  const given: unknown[][] = [];
  const worker = new Worker(handlers, nothingLeft, async (...all) => void given.push(all));
  await enqueue('survey', { collectionId: 'one', surveyId: 7 });
  await (await database()).execute(sql`update pgboss.job set retry_limit = 0`);
  worker.start();
  await until(() => given.length === 1);
  await worker.end();
  expect(given).toEqual([['survey', { collectionId: 'one', surveyId: 7 }, 'no room']]);
  expect((await progressOf('one'))[0]).toMatchObject({ kind: 'survey', error: 'no room' });
});

test('jobs that are done as one are all completed, and none of them again by the next start', async () => {
  const gate = deferred();
  const { handlers, events } = recorded({ audit: () => gate.promise });
  const worker = new Worker(handlers, nothingLeft, nobodyWaits);
  await enqueue('audit', { collectionId: 'one' });
  worker.start();
  await until(() => events.length === 1);
  // In the same lane, so that they wait for the audit, with a key each.
  for (const rule of ['no-alt', 'echo', 'overlong']) await enqueueRecheck('one', [rule]);
  await until(async () => (await waiting()).length === 0);
  gate.resolve();
  await worker.idle();
  await worker.end();
  expect(events.filter((e) => e === 'recheck one begins')).toHaveLength(1);
  const { rows } = (await (
    await database()
  ).execute(sql`select name, state::text from pgboss.job where state <> 'completed'`)) as unknown as {
    rows: unknown[];
  };
  expect(rows).toEqual([]);
  const later = recorded();
  const next = new Worker(later.handlers, nothingLeft, nobodyWaits);
  next.start();
  await next.idle();
  await next.end();
  expect(later.events).toEqual([]);
});

test('a job that waits after a failed one says nothing of how far that was', async () => {
  await noteRunning('survey', 'one');
  await noteShare('survey', 'one', 0.5, { pages: 40 });
  await noteOver('survey', 'one', 'no room');
  await noteWaiting(await database(), 'survey', 'one');
  expect(await detailOf('survey', 'one')).toBeNull();
  expect(await progressOf('one')).toEqual([{ kind: 'survey', state: 'waiting', share: null, error: null }]);
});
