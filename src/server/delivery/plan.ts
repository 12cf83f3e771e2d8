import { createHash } from 'node:crypto';
import { and, eq, sql } from 'drizzle-orm';
import { documentContextOf, draftNoteOf } from '@/core/house-style/house-style';
import { DEFAULT_PLACEMENT } from '@/core/model/texts';
import type { Collection } from '../catalogue/collections';
import { pageOrder } from '../catalogue/page-order';
import { hasOwnTexts, mayCarryDescription } from '../catalogue/waiting';
import { database, type Queryable } from '../db/database';
import { appearance, conflict, page, picture, preparedDocument } from '../db/schema';
import { DescriptionPages } from './description-pages';
import { waitingAppearances } from './page-edits';

/** Rises when documents are written otherwise than before, so that none is delivered as an earlier version wrote it. */
const WRITER_VERSION = 1;

/** How old a comparison with a document may be before a preview makes it again, in seconds. */
export const COMPARISON_HOLDS = 600;

/** The long descriptions of a collection that stand on pages of their own. */
export async function descriptionPagesOf(db: Queryable, collectionId: string): Promise<DescriptionPages> {
  const stand = sql`coalesce(${picture.longPlacement}->>'stand', ${DEFAULT_PLACEMENT.stand})`;
  return new DescriptionPages(
    await waitingAppearances(db, collectionId, sql`${picture.longDescription} is not null and ${stand} = 'page'`),
  );
}

/**
 * Brings the list of documents that wait for delivery up to date: those that are new in it or have other texts than before
 * have to be written, those that were compared too long ago have to be compared again.
 *
 * @param holds seconds for which a comparison holds
 * @returns how many documents have to be looked at, and whether any waits no longer
 */
export async function planDelivery(
  c: Pick<Collection, 'id' | 'style'>,
  holds = COMPARISON_HOLDS,
): Promise<{ due: number; hasGone: boolean }> {
  const db = await database();
  const described = await mayCarryDescription(db, c.id);
  const pages = await descriptionPagesOf(db, c.id);
  const settings = JSON.stringify([WRITER_VERSION, draftNoteOf(c.style), documentContextOf(c.style).book]);
  const hash = createHash('sha256').update(JSON.stringify(pages.addresses())).digest('hex');
  const own = sql`row(${sql.join(
    [
      ...[appearance.id, appearance.position, appearance.version, appearance.leftOut, conflict.id],
      ...[appearance.words, appearance.title, appearance.caption, appearance.creditLine],
      ...[picture.src, picture.longDescription, picture.longPlacement, picture.credit, picture.rights],
      sql`case when ${picture.longPlacement}->>'stand' = 'page' then ${hash}::text end`,
    ],
    sql`, `,
  )})::text`;
  const ofPage = sql`row(${page.source}, ${page.path}, ${page.title}, ${page.transport}, ${page.frontMatter}::text, ${page.reader})::text`;
  const waiting = sql`
    select ${appearance.id} as id, coalesce(${page.document}, ${page.path}) as path, ${pageOrder} as sort,
      md5(${own} || ${ofPage}) as key
    from ${appearance} join ${page} on ${page.id} = ${appearance.pageId}
    join ${picture} on ${picture.id} = ${appearance.pictureId}
    left join ${conflict} on ${conflict.appearanceId} = ${appearance.id} and ${conflict.settledAt} is null
    where ${and(eq(appearance.collectionId, c.id), eq(appearance.gone, false))} and (${hasOwnTexts} or ${described})`;
  // `not in` is hashed; with `not exists` every document would be compared with every other.
  const result = await db.execute(sql`
    with waiting as (${waiting}),
    wanted as (
      select path, row_number() over (order by min(sort), path) as position, count(*) as places,
        md5(string_agg(key, '' order by id) || ${settings}) as key
      from waiting group by path
    ),
    gone as (
      delete from ${preparedDocument} d where d.collection_id = ${c.id} and not d.is_new
        and d.path not in (select path from wanted)
      returning 1
    ),
    put as (
      insert into ${preparedDocument} (collection_id, path, position, places, key, due)
      select ${c.id}, path, position, places, key, 'write' from wanted
      on conflict (collection_id, path) do update
      set position = excluded.position, places = excluded.places, key = excluded.key, is_new = false,
        due = case when ${preparedDocument.key} <> excluded.key then 'write' else ${preparedDocument.due} end
      where (${preparedDocument.position}, ${preparedDocument.key}, ${preparedDocument.isNew}) is distinct from (excluded.position, excluded.key, false)
      returning 1
    )
    select (select count(*) from gone)::int as gone`);
  const [{ gone }] = (result as unknown as { rows: [{ gone: number }] }).rows;
  // One that was left out may be as it was by now, or readable again.
  await db.execute(sql`
    update ${preparedDocument} set due = case when is_left_out then 'write' else 'compare' end
    where collection_id = ${c.id} and not is_new and due is null
      and (is_left_out or compared_at is null or compared_at < now() - make_interval(secs => ${holds}))`);
  const due = await db.$count(
    preparedDocument,
    and(eq(preparedDocument.collectionId, c.id), sql`${preparedDocument.due} is not null`),
  );
  return { due, hasGone: gone > 0 };
}
