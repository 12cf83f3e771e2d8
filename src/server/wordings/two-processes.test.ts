import { fork, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { eq, sql } from 'drizzle-orm';
import type { Answered, Asked, Does } from '../testing/other-process';
import { emptyDatabase, postgres } from '../testing/postgres';
import { gif } from '../testing/site';

/**
 * Two processes on one server do the same at the same moment. After PostgreSQL's isolation tests
 * (`src/test/isolation`): each names the anomaly that `read committed` would allow.
 */
const folder = mkdtempSync(path.join(tmpdir(), 'detto-two-'));
const root = path.join(folder, 'site');
process.env['DETTO_DATA'] = path.join(folder, 'data');
if (postgres) process.env['DATABASE_URL'] = await emptyDatabase();
await import('../db/schema');
const { closeDatabase, database } = await import('../db/database');
const { appearance, collection, survey, wording } = await import('../db/schema');
const { insertCollection } = await import('../catalogue/collections');
const { jobsIdle, startJobs, stopJobs } = await import('../pipeline/pipeline');
const { startSurvey, surveyOver } = await import('../survey/surveys');
const { readFile, sha256Of } = await import('../blobs/blobs');

/** Another process, which is asked by name. */
class Other {
  private last = 0;
  private readonly waiting = new Map<number, (answer: Answered) => void>();
  private constructor(readonly child: ChildProcess) {
    child.on('message', (answer: Answered) => this.waiting.get(answer.id)?.(answer));
  }

  static async start(): Promise<Other> {
    const child = fork(path.resolve('src/server/testing/other-process.ts'), {
      execArgv: ['--import', 'tsx', '--no-warnings'],
      env: { ...process.env, NODE_OPTIONS: '', DETTO_LOG: 'silent' },
    });
    await once(child, 'message');
    return new Other(child);
  }

  async ask<K extends keyof Does>(
    what: K,
    at: number,
    ...given: Parameters<Does[K]>
  ): Promise<Awaited<ReturnType<Does[K]>>> {
    const id = ++this.last;
    const answer = await new Promise<Answered>((resolve) => {
      this.waiting.set(id, resolve);
      this.child.send({ id, what, at, given } satisfies Asked);
    });
    if (answer.error) throw new Error(answer.error);
    return answer.result as Awaited<ReturnType<Does[K]>>;
  }
}

const onServer = postgres ? describe : describe.skip;
onServer('two processes', () => {
  let others: [Other, Other];
  let id: string;
  let place: number;
  /** A moment soon, so that both begin at it. */
  const soon = () => Date.now() + 40;

  beforeAll(async () => {
    mkdirSync(root, { recursive: true });
    writeFileSync(path.join(root, 'index.html'), '<html lang=en><title>Quay</title><img src=boat.gif>');
    writeFileSync(path.join(root, 'boat.gif'), gif(4, 3));
    id = (await insertCollection({ name: 'Two', kind: 'folder', root, maxPages: 9, maxDepth: 9 })).id;
    startJobs(['survey', 'audit']);
    await surveyOver(await startSurvey(id));
    await jobsIdle();
    await stopJobs();
    const [row] = await (await database()).select({ id: appearance.id }).from(appearance);
    place = row!.id;
    others = await Promise.all([Other.start(), Other.start()]);
  });
  afterAll(async () => {
    for (const { child } of others) child.kill();
    await closeDatabase();
    rmSync(folder, { recursive: true, force: true });
  });

  test('who saves words from the same state: one of them learns of the other’s (lost update)', async () => {
    const db = await database();
    for (let i = 0; i < 12; i++) {
      const [{ revision } = { revision: 0 }] = await db.select().from(collection).where(eq(collection.id, id));
      const at = soon();
      const saved = await Promise.all(
        others.map((o, n) =>
          o.ask('saveWords', at, {
            ...{ collectionId: id, appearanceIds: [place], by: 'person', since: revision },
            ...{ text: `Boat ${i} ${n}`, act: `act ${i} ${n}` },
          }),
        ),
      );
      expect(saved.map((s) => s.conflicts.length).sort()).toEqual([0, 1]);
      const rows = await db
        .select()
        .from(wording)
        .where(sql`${wording.act} like ${`act ${i} %`}`);
      expect(rows.map((r) => r.state).sort()).toEqual(['accepted', 'conflict']);
    }
  });

  test('who starts a survey of one collection starts one (write skew)', async () => {
    const db = await database();
    for (let i = 0; i < 12; i++) {
      const at = soon();
      const [one, other] = await Promise.all(others.map((o) => o.ask('startSurvey', at, id)));
      expect(one).toBe(other);
      await db.update(survey).set({ state: 'done' });
      await db.execute(sql`delete from pgboss.job`);
    }
  });

  test('who keeps the same files keeps each once, and all of them can be read', async () => {
    const texts = Array.from({ length: 40 }, (_, i) => `boat ${i}`.repeat(20 + i));
    const at = soon();
    const kept = await Promise.all(others.flatMap((o) => texts.map((text) => o.ask('keepFile', at, text))));
    expect(new Set(kept).size).toBe(texts.length);
    for (const text of texts) expect((await readFile(sha256Of(Buffer.from(text)))).toString()).toBe(text);
  });

  test('what one changes, windows at the other hear of', async () => {
    await others[1].ask('listen', 0, id);
    await others[0].ask('saveWords', 0, {
      ...{ collectionId: id, appearanceIds: [place], text: 'A boat', act: 'heard', by: 'person' as const },
    });
    let heard: unknown[] = [];
    while (heard.length === 0) heard = (await others[1].ask('heard', Date.now() + 20)) as unknown[];
    expect(heard[0]).toMatchObject({ collectionId: id, pictures: [expect.any(Number)] });
  });

  test('who asks one host takes turns', async () => {
    const at = soon();
    const asked = await Promise.all(
      others.flatMap((o) => Array.from({ length: 5 }, () => o.ask('take', at, 'host skerry.example', 60_000))),
    );
    expect(asked.filter((ms) => ms === 0)).toHaveLength(1);
  });
});
