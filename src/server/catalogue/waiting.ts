import { and, eq, isNotNull, sql, type SQL } from 'drizzle-orm';
import { PLACEABLE } from '@/core/formats/html/refusals';
import { among } from '../db/bulk';
import type { Queryable } from '../db/database';
import { appearance, picture } from '../db/schema';

/** Tells the appearances that have a text of their own that their page does not say yet. */
export const hasOwnTexts: SQL = sql`(${appearance.words} is not null or ${appearance.title} is not null
  or ${appearance.caption} is not null or ${appearance.creditLine} is not null)`;

/** Id of the element that holds the long description of a picture: the same in every delivery. */
export const descriptionId: SQL<string> = sql<string>`('description-' || left(encode(sha256(convert_to(${picture.key}, 'UTF8')), 'hex'), 8))`;

/**
 * Tells the appearances that a long description is for, or was. Which pictures have one is asked first: they are few, and
 * among very many appearances nothing else finds theirs quickly.
 */
export async function mayCarryDescription(db: Queryable, collectionId: string): Promise<SQL> {
  const described = await db
    .select({ id: picture.id })
    .from(picture)
    .where(and(eq(picture.collectionId, collectionId), isNotNull(picture.longDescription)));
  const elements = sql.join(
    PLACEABLE.map((element) => sql`${element}`),
    sql`, `,
  );
  const ids = described.map((d) => d.id);
  return and(among(appearance.pictureId, ids), sql`${appearance.reading}->>'element' in (${elements})`)!;
}

/** How many texts wait for delivery, and renamed files; a long description that was changed since counts once it is looked at. */
export async function countWaiting(db: Queryable, collectionId: string): Promise<number> {
  const present = and(eq(appearance.collectionId, collectionId), eq(appearance.gone, false));
  const count = sql`count(*)`.mapWith(Number);
  const texts = sql`coalesce(sum((${appearance.words} is not null or ${appearance.title} is not null)::int
    + (${appearance.caption} is not null)::int + (${appearance.creditLine} is not null)::int), 0)`.mapWith(Number);
  const [own] = await db.select({ count: texts }).from(appearance).where(and(present, hasOwnTexts));
  const isNew = sql`${picture.longDescription} <> '' and ${appearance.state} <> 'decorative'
    and position(${descriptionId} in ${appearance.reading}->'accessible'->>'descriptions') = 0`;
  const [described] = await db
    .select({ count })
    .from(appearance)
    .innerJoin(picture, eq(picture.id, appearance.pictureId))
    .where(and(present, await mayCarryDescription(db, collectionId), isNew));
  const [renamed] = await db
    .select({ count })
    .from(picture)
    .where(
      and(eq(picture.collectionId, collectionId), sql`${picture.fileName} is not null and ${picture.appearances} > 0`),
    );
  return own!.count + described!.count + renamed!.count;
}
