import { and, eq, sql } from 'drizzle-orm';
import { among } from '../db/bulk';
import type { Database, Queryable } from '../db/database';
import { appearance, preparedDocument, type DeliveredTexts } from '../db/schema';

/** The texts that a delivery puts into a document, by their places. @param path of the document */
export async function textsGoingInto(db: Database, collectionId: string, path: string): Promise<DeliveredTexts[]> {
  const mine = and(eq(preparedDocument.collectionId, collectionId), eq(preparedDocument.path, path));
  const [row] = await db.select({ document: preparedDocument.document }).from(preparedDocument).where(mine);
  const ids = [...new Set(row?.document?.changes.map((change) => change.appearanceId))];
  const { id, reading, words, title, caption, creditLine } = appearance;
  return db
    .select({ id, reading, words, title, caption, creditLine })
    .from(appearance)
    .where(among(appearance.id, ids));
}

/**
 * Has texts wait again that were delivered and taken back: after a survey had found them in their page, they waited no longer.
 * What somebody has written there since stays. The places say again what they said before, so that the next survey finds
 * no change by somebody else there.
 */
export async function waitAgain(tx: Queryable, texts: readonly DeliveredTexts[]): Promise<void> {
  await tx.execute(sql`
    update ${appearance} a set reading = t.reading, words = coalesce(a.words, t.words), title = coalesce(a.title, t.title),
      caption = coalesce(a.caption, t.caption), credit_line = coalesce(a.credit_line, t."creditLine")
    from json_to_recordset(${JSON.stringify(texts)}::json)
      as t(id int, reading json, words text, title text, caption text, "creditLine" boolean)
    where a.id = t.id`);
}
