import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { spawnSync } from 'node:child_process';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { sql } from 'drizzle-orm';
import type { OpenDatabase } from '../db/database';
import { emptyDatabase, postgres } from '../testing/postgres';
import { gif } from '../testing/site';

/** A whole data folder goes to a server and back, row for row; checked with PostgreSQL's own `pg_dump`. */
const folder = mkdtempSync(path.join(tmpdir(), 'detto-move-'));
process.env['DETTO_DATA'] = path.join(folder, 'data');
process.env['DATABASE_URL'] = '';
await import('../db/schema');
const { closeDatabase } = await import('../db/database');
const { openEmbeddedDatabase } = await import('../db/embedded-database');
const { openServerDatabase } = await import('../db/server-database');
const { insertCollection } = await import('../catalogue/collections');
const { jobsIdle, startJobs, stopJobs } = await import('../pipeline/pipeline');
const { startSurvey, surveyOver } = await import('../survey/surveys');
const { saveWords } = await import('../wordings/wordings');
const { moveData } = await import('./move');

afterAll(() => rmSync(folder, { recursive: true, force: true }));
const at = path.join(folder, 'data', 'database');
const nobody = () => undefined;
const rowsOf = async <Row>({ db }: OpenDatabase, query: ReturnType<typeof sql>) =>
  ((await db.execute(query)) as unknown as { rows: Row[] }).rows;

const onServer = postgres ? describe : describe.skip;
onServer('moving', () => {
  beforeAll(async () => {
    const root = path.join(folder, 'site');
    mkdirSync(root);
    for (let i = 0; i < 4; i++) {
      writeFileSync(
        path.join(root, `p${i}.html`),
        `<html lang=en><title>${i} Möwe</title><img src=b${i}.gif alt="“Boot” \\ ${i}">`,
      );
      writeFileSync(path.join(root, `b${i}.gif`), gif(i + 1, 3));
    }
    const { id } = await insertCollection({ name: 'Isle', kind: 'folder', root, maxPages: 9, maxDepth: 9 });
    startJobs(['survey', 'audit']);
    await surveyOver(await startSurvey(id));
    await jobsIdle();
    await stopJobs();
    await saveWords({
      collectionId: id,
      appearanceIds: [1, 2],
      text: 'A boat “at” \\ sea\nof 1\u00bd',
      act: 'a',
      by: 'person',
    });
    await closeDatabase();
  });

  test('to a server and back, every table is the same, also where it was broken off, and numbers go on', async () => {
    const there = await emptyDatabase();
    const own = await openEmbeddedDatabase(at);
    const server = await openServerDatabase(there, folder);
    let begun = 0;
    const breaking = () => {
      if (++begun === 3) throw new Error('broken off');
    };
    await expect(moveData(own, server, breaking)).rejects.toThrow('broken off');
    const { tables, rows } = await moveData(own, server, nobody);
    expect(tables).toBeGreaterThan(20);
    expect(rows).toBeGreaterThan(30);
    const added = await rowsOf<{ id: number }>(
      server,
      sql`insert into survey (collection_id, state) select id, 'done' from collection returning id`,
    );
    expect(added[0]!.id).toBe(2);
    await server.db.execute(sql`delete from survey where id = 2`);

    const second = await openEmbeddedDatabase(path.join(folder, 'second', 'database'));
    await moveData(server, second, nobody);
    const words = (p: OpenDatabase) => rowsOf(p, sql`select w::text t from wording w order by id`);
    expect(await words(second)).toEqual(await words(own));
    await second.close();

    // PostgreSQL's own tool finds the same rows in a copy of the copy.
    const again = await emptyDatabase();
    const third = await openServerDatabase(again, folder);
    await moveData(server, third, nobody);
    const dump = (url: string) => {
      const { stdout, status } = spawnSync('pg_dump', ['--data-only', '--schema=public', '--inserts', url], {
        encoding: 'utf8',
      });
      expect(status).toBe(0);
      return stdout
        .split('\n')
        .filter((l) => l.startsWith('INSERT INTO'))
        .sort();
    };
    expect(dump(again)).toEqual(dump(there));
    expect(dump(there).length).toBeGreaterThan(20);
    await third.close();
    await server.close();
    await own.close();
  });

  test('into a database that holds something else nothing is copied, and what differs in the end is said', async () => {
    const own = await openEmbeddedDatabase(at);
    const other = await openServerDatabase(await emptyDatabase(), folder);
    await other.db.execute(
      sql`insert into collection (id, name, kind, root, max_pages, max_depth) values ('quay', 'Quay', 'folder', '/quay', 1, 1)`,
    );
    await expect(moveData(own, other, nobody)).rejects.toMatchObject({ reason: { id: 'move.occupied' } });
    const changed = await openServerDatabase(await emptyDatabase(), folder);
    await moveData(own, changed, nobody);
    await changed.db.execute(sql`update wording set text = 'Other words' where id = 1`);
    await expect(moveData(own, changed, nobody)).rejects.toMatchObject({
      reason: { id: 'move.differs', values: { table: 'wording' } },
    });
    await other.close();
    await changed.close();
    await own.close();
  });
});
