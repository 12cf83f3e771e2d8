import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { sql } from 'drizzle-orm';
import { emptyDatabase, postgres } from '../testing/postgres';
import type { Handlers } from './worker';

/** Several workers on one database: each job is done once, each lane by one, and what a dead one had is taken over. */
const folder = mkdtempSync(path.join(tmpdir(), 'detto-claims-'));
process.env['DETTO_DATA'] = folder;
if (postgres) process.env['DATABASE_URL'] = await emptyDatabase();
await import('../db/schema');
const { closeDatabase, database } = await import('../db/database');
const { insertCollection } = await import('../catalogue/collections');
const { enqueue, fetchJobs } = await import('./queue');
const { JOB_KINDS } = await import('./kinds');
const { SharedClaims } = await import('./shared-claims');
const { Worker } = await import('./worker');

/** Seconds and milliseconds that a test can wait for. */
const LEASE = 3;
const EVERY = 700;
const claims = () => new SharedClaims(LEASE, EVERY);
const nothing = async () => undefined;
const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
async function until(holds: () => boolean | Promise<boolean>): Promise<void> {
  while (!(await holds())) await pause(20);
}
const ids: string[] = [];
beforeAll(async () => {
  for (const name of ['one', 'two', 'three', 'four']) {
    const c = await insertCollection({ name, kind: 'folder', root: folder, maxPages: 1, maxDepth: 1 });
    ids.push(c.id);
  }
});
afterEach(async () => {
  const db = await database();
  for (const table of ['pgboss.job', 'job_progress', 'worker_process'])
    await db.execute(sql`delete from ${sql.raw(table)}`);
});
afterAll(async () => {
  await closeDatabase();
  rmSync(folder, { recursive: true, force: true });
});
const only = (audit: (collectionId: string, who: string) => Promise<void>, who: string) =>
  new Worker(
    { audit: (p: { collectionId: string }) => audit(p.collectionId, who) } as unknown as Handlers,
    nothing,
    nothing,
    ['audit'],
    claims(),
  );

test('two workers do each job once, and never two of one collection at a time', async () => {
  const done: string[] = [];
  const busy = new Set<string>();
  const workers = ['left', 'right'].map((who) =>
    only(async (id) => {
      expect(busy.has(id)).toBe(false);
      busy.add(id);
      await pause(30);
      busy.delete(id);
      done.push(`${id} ${who}`);
    }, who),
  );
  for (const id of ids) for (let i = 0; i < 4; i++) await enqueue('audit', { collectionId: id }, { key: `${id} ${i}` });
  for (const w of workers) w.start();
  await until(async () => done.length >= 4 && (await left()) === 0);
  for (const w of workers) await w.end();
  // Of one collection, several that one worker holds are one; none is done twice beside that.
  expect(new Set(done.map((d) => d.split(' ')[0]))).toEqual(new Set(ids));
  expect(new Set(done.map((d) => d.split(' ')[1]))).toEqual(new Set(['left', 'right']));
});

const left = async () =>
  Number(
    (
      (await (await database()).execute(sql`select count(*)::int n from pgboss.job`)) as unknown as {
        rows: [{ n: number }];
      }
    ).rows[0].n,
  );

test('what a living worker does is nobody else’s, however long it takes; what a dead one had is taken over', async () => {
  await enqueue('audit', { collectionId: ids[0]! });
  const alive = claims();
  await alive.renew();
  const [job] = await fetchJobs('audit', 1);
  await alive.claim([job!.id]);
  expect(await alive.enterLane(ids[0]!, 'audit')).toBe(true);
  let done = 0;
  const other = only(async () => void done++, 'other');
  other.start();
  for (let i = 0; i < 15; i++) {
    await pause(LEASE * 100);
    expect(await alive.renew()).toBe(true);
  }
  expect(done).toBe(0);
  // It says nothing any more.
  await until(() => done === 1);
  await until(async () => (await left()) === 0);
  expect(await alive.renew()).toBe(false);
  await other.end();
});

test('a job that was fetched by a worker that died before it could claim it is done by another', async () => {
  await enqueue('audit', { collectionId: ids[1]! });
  expect(await fetchJobs('audit', 1)).toHaveLength(1);
  let done = 0;
  const other = only(async () => void done++, 'other');
  other.start();
  await until(() => done === 1);
  await other.end();
});

test('an orderly end gives back what it had at once', async () => {
  await enqueue('audit', { collectionId: ids[2]! });
  let began = 0;
  const worker = new Worker(
    {
      audit: (_: unknown, { signal }: { signal: AbortSignal }) => {
        began++;
        return new Promise<void>((resolve) => signal.addEventListener('abort', () => resolve(), { once: true }));
      },
    } as unknown as Handlers,
    nothing,
    nothing,
    JOB_KINDS,
    claims(),
  );
  worker.start();
  await until(() => began === 1);
  await worker.end();
  const next = claims();
  await next.renew();
  expect(await fetchJobs('audit', 1)).toHaveLength(1);
  expect(await next.enterLane(ids[2]!, 'audit')).toBe(true);
});
