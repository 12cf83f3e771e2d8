import { and, asc, eq, sql } from 'drizzle-orm';
import { groupSimilar, stemOf, type Comparable } from '@/core/picture/similarity';
import { storable } from '../db/bulk';
import { collectionTransaction, database } from '../db/database';
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
        fingerprint: picture.fingerprint,
        taken: sql<string | null>`${picture.details}->'metadata'->'taken'->>'text'`,
      })
      .from(picture)
      .where(
        and(
          eq(picture.collectionId, collectionId),
          sql`${picture.id} > ${after} and ${picture.fingerprint} is not null and ${picture.appearances} > 0`,
        ),
      )
      .orderBy(asc(picture.id))
      .limit(BATCH);
    if (rows.length === 0) break;
    after = rows.at(-1)!.id;
    for (const { id, src, width, height, fingerprint, taken } of rows)
      all.push({ id, width: width ?? 1, height: height ?? 1, stem: stemOf(src), taken, ...fingerprint! });
  }
  const groups = groupSimilar(all);
  const size = new Map(all.map((p) => [p.id, p.width * p.height]));
  const members = new Map<number, number[]>();
  for (const [id, { similarGroup }] of groups)
    if (similarGroup !== null) members.set(similarGroup, [...(members.get(similarGroup) ?? []), id]);
  const ranks = new Map<number, number>();
  for (const ids of members.values())
    ids.sort((a, b) => size.get(b)! - size.get(a)! || a - b).forEach((id, i) => ranks.set(id, i + 1));
  const rows = [...groups].flatMap(([id, { duplicateGroup, similarGroup }]) =>
    similarGroup === null
      ? []
      : [{ id, duplicateGroup, similarGroup, size: members.get(similarGroup)!.length, rank: ranks.get(id)! }],
  );
  await collectionTransaction(collectionId, async (tx) => {
    await tx
      .update(picture)
      .set({ duplicateGroup: null, similarGroup: null, similarCount: 0, similarRank: 0 })
      .where(and(eq(picture.collectionId, collectionId), sql`${picture.similarGroup} is not null`));
    for (let i = 0; i < rows.length; i += BATCH)
      await tx.execute(sql`update ${picture} set duplicate_group = r."duplicateGroup", similar_group = r."similarGroup", similar_count = r.size,
        similar_rank = r.rank
        from json_to_recordset(${storable(rows.slice(i, i + BATCH))}::json)
          as r(id int, "duplicateGroup" int, "similarGroup" int, size int, rank int)
        where picture.id = r.id`);
  });
}
