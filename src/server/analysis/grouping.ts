import { and, asc, eq, sql } from 'drizzle-orm';
import { groupAlike, stemOf, type Comparable } from '@/core/picture/similarity';
import { storable } from '../db/bulk';
import { database } from '../db/database';
import { picture } from '../db/schema';

const BATCH = 2000;

/** Finds which pictures of a collection are the same, and which look alike. */
export async function groupPictures(collectionId: string): Promise<void> {
  const db = await database();
  const all: Comparable[] = [];
  for (let after = 0; ;) {
    const rows = await db
      .select({
        id: picture.id,
        src: picture.src,
        width: picture.width,
        height: picture.height,
        likeness: picture.likeness,
        taken: sql<string | null>`${picture.sight}->'metadata'->'taken'->>'text'`,
      })
      .from(picture)
      .where(
        and(
          eq(picture.collectionId, collectionId),
          sql`${picture.id} > ${after} and ${picture.likeness} is not null and ${picture.appearances} > 0`,
        ),
      )
      .orderBy(asc(picture.id))
      .limit(BATCH);
    if (rows.length === 0) break;
    after = rows.at(-1)!.id;
    for (const { id, src, width, height, likeness, taken } of rows)
      all.push({ id, width: width ?? 1, height: height ?? 1, stem: stemOf(src), taken, ...likeness! });
  }
  const groups = groupAlike(all);
  const size = new Map(all.map((p) => [p.id, p.width * p.height]));
  const members = new Map<number, number[]>();
  for (const [id, { series }] of groups) if (series !== null) members.set(series, [...(members.get(series) ?? []), id]);
  const ranks = new Map<number, number>();
  for (const ids of members.values())
    ids.sort((a, b) => size.get(b)! - size.get(a)! || a - b).forEach((id, i) => ranks.set(id, i + 1));
  const rows = [...groups].flatMap(([id, { family, series }]) =>
    series === null ? [] : [{ id, family, series, size: members.get(series)!.length, rank: ranks.get(id)! }],
  );
  await db.transaction(async (tx) => {
    await tx
      .update(picture)
      .set({ family: null, series: null, seriesSize: 0, seriesRank: 0 })
      .where(and(eq(picture.collectionId, collectionId), sql`${picture.series} is not null`));
    for (let i = 0; i < rows.length; i += BATCH)
      await tx.execute(sql`update ${picture} set family = r.family, series = r.series, series_size = r.size,
        series_rank = r.rank
        from json_to_recordset(${storable(rows.slice(i, i + BATCH))}::json)
          as r(id int, family int, series int, size int, rank int)
        where picture.id = r.id`);
  });
}
