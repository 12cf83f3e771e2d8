import { readFileSync } from 'node:fs';
import path from 'node:path';
import { PGlite } from '@electric-sql/pglite';

/** Data folders of earlier versions: what was kept as English sentences becomes messages that say the same. */
const folder = path.resolve('drizzle');
const { entries } = JSON.parse(readFileSync(path.join(folder, 'meta/_journal.json'), 'utf8')) as {
  entries: { tag: string; when: number }[];
};
const statements = (tag: string) =>
  readFileSync(path.join(folder, `${tag}.sql`), 'utf8').split('--> statement-breakpoint');

let db: PGlite;
beforeAll(async () => {
  db = await PGlite.create();
  const upTo = entries.findIndex((e) => e.tag === '0011_messages');
  for (const { tag } of entries.slice(0, upTo)) for (const sql of statements(tag)) await db.exec(sql);
  await db.exec(`
    insert into collection (id, name, kind, root, max_pages, max_depth) values ('isle', 'Isle', 'folder', '/isle', 1, 1);
    insert into survey (collection_id, state, message) values ('isle', 'failed', 'No page could be read.'), ('isle', 'done', null);
    insert into visit (survey_id, kind, address, state, reason) values
      (1, 'page', '/a', 'skipped', 'blocked by robots.txt'), (1, 'page', '/b', 'done', null);
    insert into page (collection_id, path, title, charset, source, survey_id) values ('isle', '/a', 'A', 'utf-8', 'hash', 1);
    insert into picture (collection_id, key, broken, unread, urgency_reason, details) values
      ('isle', 'one', 'not found (404)', null, 'no alt text, on 3 pages', '{"kindReasons": ["few colours", "many edges"], "frames": 1}'),
      ('isle', 'two', null, 'its stored copy was damaged', '', null);
    insert into appearance (collection_id, page_id, picture_id, identity, position, reading, state, purpose, survey_id, evidence) values
      ('isle', 1, 1, 'x', 0, '{}', 'described', 'informative', 1, '["it has a caption", "no link around it"]'),
      ('isle', 1, 2, 'y', 1, '{}', 'missing', 'informative', 1, '[]');
    insert into finding (collection_id, picture_id, appearance_id, page_id, rule, outcome, message, also) values
      ('isle', 1, 1, 1, 'no-alt', 'failed', 'There is “no” alt {attribute}.', '[{"rule": "unnamed-control", "message": "It has no name."}]'),
      ('isle', 2, 2, 1, 'echo', 'advice', 'It is heard twice.', '[]');
    insert into wording (collection_id, appearance_id, text, by, state, act, evidence) values
      ('isle', 1, 'Puffins', 'drafter', 'refused', 'a', '{"from": [], "missing": "What is seen?"}'),
      ('isle', 1, 'Quay', 'drafter', 'draft', 'b', '{"from": [], "missing": null}'),
      ('isle', 1, 'By hand', 'person', 'accepted', 'c', null);`);
  for (const sql of statements('0011_messages')) await db.exec(sql);
});
afterAll(() => db.close());

const plain = (text: string) => ({ id: 'plain', values: { text } });
const column = async (table: string, name: string) =>
  (
    await db.query<Record<string, unknown>>(
      `select ${name} as value from ${table} order by ${table === 'visit' ? 'seq' : 'id'}`,
    )
  ).rows.map((r) => r['value']);

test.each<[table: string, column: string, values: unknown[]]>([
  ['survey', 'message', [plain('No page could be read.'), null]],
  ['visit', 'reason', [plain('blocked by robots.txt'), null]],
  ['picture', 'broken', [plain('not found (404)'), null]],
  ['picture', 'unread', [null, plain('its stored copy was damaged')]],
  ['picture', 'urgency_reason', [plain('no alt text, on 3 pages'), null]],
  ['picture', 'details', [{ kindReasons: [plain('few colours'), plain('many edges')], frames: 1 }, null]],
  ['appearance', 'evidence', [[plain('it has a caption'), plain('no link around it')], []]],
  // Braces and quotation marks are words here, and stay so.
  ['finding', 'message', [plain('There is “no” alt {attribute}.'), plain('It is heard twice.')]],
  ['finding', 'also', [[{ rule: 'unnamed-control', message: plain('It has no name.') }], []]],
  ['wording', 'evidence', [{ from: [], missing: plain('What is seen?') }, { from: [], missing: null }, null]],
  ['wording', 'state', ['rejected', 'draft', 'accepted']],
])('%s.%s', async (table, name, values) => expect(await column(table, name)).toEqual(values));

test('migrations are in the order of their times, so that a newer folder is known by its latest', () => {
  const times = entries.map((e) => e.when);
  expect([...times].sort((a, b) => a - b)).toEqual(times);
});

test('what lists filter by stands in columns, also of appearances that were read before there were any', async () => {
  const old = await PGlite.create();
  const upTo = entries.findIndex((e) => e.tag === '0024_filtered_columns');
  for (const { tag } of entries.slice(0, upTo)) for (const sql of statements(tag)) await old.exec(sql);
  const reading = {
    element: 'img',
    markup: { candidates: [] },
    accessible: { name: 'Puffins' },
    context: { region: 'main', lang: 'en', run: 2 },
    layout: { width: 300.4, height: 200 },
  };
  await old.exec(`
    insert into collection (id, name, kind, root, max_pages, max_depth) values ('isle', 'Isle', 'folder', '/isle', 1, 1);
    insert into page (collection_id, path, title, charset, source, survey_id) values ('isle', '/a', 'A', 'utf-8', 'hash', 1);
    insert into picture (collection_id, key) values ('isle', 'one');
    insert into appearance (collection_id, page_id, picture_id, identity, position, reading, state, purpose, survey_id, evidence) values
      ('isle', 1, 1, 'x', 0, '${JSON.stringify(reading)}', 'described', 'informative', 1, '[]'),
      ('isle', 1, 1, 'y', 0, '{}', 'described', 'informative', 1, '[]')`);
  for (const sql of statements('0024_filtered_columns')) await old.exec(sql);
  const { rows } = await old.query(
    'select name, region, lang, shown_width, area, is_side_by_side from appearance order by id',
  );
  expect(rows).toEqual([
    { name: 'Puffins', region: 'main', lang: 'en', shown_width: 300, area: 60080, is_side_by_side: true },
    { name: null, region: null, lang: null, shown_width: null, area: null, is_side_by_side: false },
  ]);
  await old.close();
});
