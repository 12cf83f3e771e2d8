import { sql } from 'drizzle-orm';
import { readSource } from '../../src/core/formats/html/read-page';
import { insertCollection, type Collection } from '../../src/server/catalogue/collections';
import { database } from '../../src/server/db/database';

const PAGES = 10_000;

/**
 * Makes a collection of very many pictures in the database of `DETTO_DATA`: each in two appearances, on 10,000 pages, a fifth
 * without alt text, the others with one of ten thousand texts. It is not audited yet.
 */
export async function seedLargeCollection(root: string, pictures: number): Promise<Collection> {
  const db = await database();
  const c = await insertCollection({ name: 'Large', kind: 'folder', root, maxPages: 1, maxDepth: 1 });
  const [reading] = readSource(
    '<html lang="en"><main><p class="card">Text before<img src="a.jpg" alt="The ferry at the quay">and after</p>',
  ).appearances;
  const { markup, accessible } = reading!;
  const wordless = {
    ...reading!,
    state: 'missing',
    markup: { ...markup, alt: null },
    accessible: { ...accessible, name: '', nameSource: null },
  };
  const text = sql`'The ferry number ' || i % 10000`;
  await db.execute(sql`insert into page (collection_id, path, title, lang, charset, source, survey_id)
    select ${c.id}, 'p' || i || '.html', 'Page ' || i, 'en', 'utf-8', '', 1 from generate_series(1, ${sql.raw(String(PAGES))}) i`);
  await db.execute(sql`insert into picture (collection_id, key, sha256, type, bytes, width, height, src)
    select ${c.id}, 'k' || i, 'k' || i, 'image/jpeg', 1000 + (i * 7919) % 300000, 800, 600, 'img/picture-' || i || '.jpg'
    from generate_series(1, ${sql.raw(String(pictures))}) i`);
  await db.execute(sql`insert into appearance (collection_id, page_id, picture_id, identity, position, reading, state, words_key, place, name, region, lang, purpose, evidence, survey_id)
    select ${c.id}, (select min(id) from page) + (i * 31) % ${sql.raw(String(PAGES))}, (select min(id) from picture) + i % ${sql.raw(String(pictures))}, 'i' || i, i,
      case when i % 5 = 0 then ${JSON.stringify(wordless)}::jsonb else ${JSON.stringify(reading)}::jsonb
        || jsonb_build_object('markup', ${JSON.stringify(markup)}::jsonb || jsonb_build_object('alt', ${text}))
        || jsonb_build_object('accessible', ${JSON.stringify(accessible)}::jsonb || jsonb_build_object('name', ${text})) end,
      case when i % 5 = 0 then 'missing' else 'described' end, case when i % 5 = 0 then null else 'the ferry number ' || i % 10000 end, 'main>p.card', case when i % 5 = 0 then '' else ${text} end, 'main', 'en', 'informative', '[]', 1
    from generate_series(1, ${sql.raw(String(2 * pictures))}) i`);
  return c;
}
