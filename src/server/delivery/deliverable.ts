import { and, asc, eq, gt, isNotNull, or, sql, type SQL } from 'drizzle-orm';
import { FORMAT_IDS, type FormatId } from '@/core/model/document';
import { UserError } from '@/core/model/user-error';
import { readFile } from '../blobs/blobs';
import type { Database } from '../db/database';
import { preparedDocument } from '../db/schema';
import { readPrepared } from './prepared-files';
import type { DeliverableDocument } from './targets/target';

/** Tells the documents of a collection that a delivery changes or makes, of the formats that are wanted. */
function isDeliverable(collectionId: string, takes: (format: FormatId) => boolean): SQL {
  const d = preparedDocument;
  const formats = sql.param(FORMAT_IDS.filter(takes));
  const isWanted = sql`${d.document}->>'format' = any(${formats}::text[])`;
  return and(eq(d.collectionId, collectionId), gt(d.changes, 0), isNotNull(d.hashAfter), isWanted)!;
}

/** How many there are. */
export const countDeliverable = (db: Database, collectionId: string, takes: (format: FormatId) => boolean) =>
  db.$count(preparedDocument, isDeliverable(collectionId, takes));

/** Documents that are read from the database at once. */
const PORTION = 50;

/**
 * The documents that a delivery changes or makes, in the order in which they are shown.
 *
 * @param takes tells the formats that are wanted
 */
export async function* deliverable(
  db: Database,
  collectionId: string,
  takes: (format: FormatId) => boolean,
): AsyncGenerator<DeliverableDocument & { changes: number }> {
  const d = preparedDocument;
  for (let last: { isNew: boolean; position: number } | null = null; ;) {
    const after: ReturnType<typeof or> = last
      ? or(gt(d.isNew, last.isNew), and(eq(d.isNew, last.isNew), gt(d.position, last.position)))
      : undefined;
    const rows = await db
      .select({
        ...{ path: d.path, key: d.key, isNew: d.isNew, position: d.position, changes: d.changes },
        ...{ hashBefore: d.hashBefore, hashAfter: d.hashAfter },
        file: sql<string>`${d.document}->>'file'`,
        format: sql<DeliverableDocument['format']>`${d.document}->>'format'`,
      })
      .from(d)
      .where(and(isDeliverable(collectionId, takes), after))
      .orderBy(asc(d.isNew), asc(d.position))
      .limit(PORTION);
    for (const { key, hashAfter, position: _, ...row } of rows) {
      yield {
        ...row,
        hashAfter: hashAfter!,
        before: async () => (row.hashBefore === null ? Buffer.alloc(0) : readFile(row.hashBefore)),
        async after() {
          const bytes = await readPrepared(collectionId, key);
          if (bytes) return bytes;
          await db
            .update(d)
            .set({ due: 'write' })
            .where(and(eq(d.collectionId, collectionId), eq(d.path, row.path)));
          throw new UserError({ id: 'delivery.prepared-gone' });
        },
      };
    }
    if (rows.length < PORTION) return;
    last = rows.at(-1)!;
  }
}
