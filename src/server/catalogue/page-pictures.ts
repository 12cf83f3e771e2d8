import { sql } from 'drizzle-orm';
import type { PagePictureLine } from '@/contract/survey';
import { database } from '../db/database';

const MOST = 100;

/** Icons and previews of a collection's pages, those of most pages first. */
export async function pagePictures(collectionId: string): Promise<PagePictureLine[]> {
  const db = await database();
  const { rows } = await db.execute(sql`
    select a->>'kind' as kind, a->>'src' as src, a->>'alt' as alt, count(*)::int as pages,
      max(p.width) as width, max(p.height) as height, max(coalesce(p.broken, p.unread)::text)::jsonb as problem
    from page, jsonb_array_elements(page_pictures) a
    left join picture_source s on s.collection_id = ${collectionId} and s.address = a->>'src'
    left join picture p on p.id = s.picture_id
    where page.collection_id = ${collectionId} and not page.gone
    group by 1, 2, 3 order by pages desc, 2, 3 limit ${MOST}`);
  return rows as unknown as PagePictureLine[];
}
