import { and, asc, eq, gt, sql } from 'drizzle-orm';
import type { Message } from '@/core/model/message';
import { insertRows } from '../db/bulk';
import type { Database } from '../db/database';
import { deliveredDocument, type DeliveredTexts } from '../db/schema';
import type { DeliverableDocument, Receipt } from './targets/target';

/** Receipts that are written, or read, at once. */
const PORTION = 50;

/** The receipts of one delivery. */
export class Receipts {
  private readonly waiting: (typeof deliveredDocument.$inferInsert)[] = [];

  constructor(
    private readonly db: Database,
    private readonly deliveryId: number,
  ) {}

  /** Paths of the documents that the target has taken already. */
  async paths(): Promise<Set<string>> {
    const rows = await this.db
      .select({ path: deliveredDocument.path })
      .from(deliveredDocument)
      .where(and(eq(deliveredDocument.deliveryId, this.deliveryId), eq(deliveredDocument.state, 'written')));
    return new Set(rows.map((r) => r.path));
  }

  /**
   * @param atOnce it is there now, whatever becomes of the rest
   * @param texts that wait again when it is undone; null where a survey does not find them
   */
  async put(
    { path: at, file, changes, hashBefore, hashAfter }: DeliverableDocument & { changes: number },
    result: Receipt | Message,
    atOnce: boolean,
    texts: DeliveredTexts[] | null,
  ): Promise<void> {
    const base = { deliveryId: this.deliveryId, path: at, changes, texts, at: new Date() };
    if ('address' in result) this.waiting.push({ ...base, ...result, state: 'written', reason: null });
    else this.waiting.push({ ...base, address: file, hashBefore, hashAfter, state: 'refused', reason: result });
    if (atOnce || this.waiting.length >= PORTION) await this.written();
  }

  async written(): Promise<void> {
    await insertRows(
      this.db,
      deliveredDocument,
      this.waiting.splice(0),
      sql`on conflict (delivery_id, path) do update set state = excluded.state, reason = excluded.reason, at = excluded.at`,
    );
  }

  async sums(): Promise<{ pages: number; changes: number }> {
    const [row] = await this.db
      .select({
        pages: sql`count(*)`.mapWith(Number),
        changes: sql`coalesce(sum(${deliveredDocument.changes}), 0)`.mapWith(Number),
      })
      .from(deliveredDocument)
      .where(and(eq(deliveredDocument.deliveryId, this.deliveryId), eq(deliveredDocument.state, 'written')));
    return row!;
  }
}

/** A receipt as it is stored. */
export type StoredReceipt = Receipt & { path: string; texts: DeliveredTexts[] | null };

/** The receipts of what a delivery has written and nobody has undone. */
export async function* receiptsOf(db: Database, id: number): AsyncGenerator<StoredReceipt> {
  for (let last = ''; ;) {
    const rows = await db
      .select()
      .from(deliveredDocument)
      .where(
        and(
          eq(deliveredDocument.deliveryId, id),
          eq(deliveredDocument.state, 'written'),
          gt(deliveredDocument.path, last),
        ),
      )
      .orderBy(asc(deliveredDocument.path))
      .limit(PORTION);
    for (const { path: at, texts, address, hashBefore, hashAfter } of rows)
      yield { path: at, texts, address, hashBefore, hashAfter };
    if (rows.length < PORTION) return;
    last = rows.at(-1)!.path;
  }
}
