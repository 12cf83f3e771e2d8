import { and, asc, eq, gt, or, sql } from 'drizzle-orm';
import { PREVIEW_PART, type DeliveryPreview, type DeliverySums } from '@/contract/delivery';
import { FORMAT_IDS, isReadByLine } from '@/core/model/document';
import { collectionById, type Collection } from '../catalogue/collections';
import { writersAt } from '../catalogue/writers';
import { database } from '../db/database';
import { preparedDocument } from '../db/schema';
import { isUnderWay } from '../jobs/progress';
import { enqueue } from '../jobs/queue';
import { planDelivery } from './plan';
import { prepareDocuments, type Following } from './prepare-documents';

/** Milliseconds that whoever opens a preview waits for the first part of it. */
const PATIENCE = 700;
const LOOK = 25;

/**
 * Has everything prepared that waits for delivery and is not, in the background; what is quickly done is done when this
 * resolves.
 *
 * @param holds seconds for which an earlier comparison with a document holds
 */
export async function beginPreview(c: Collection, holds?: number): Promise<void> {
  const { due, hasGone } = await planDelivery(c, holds);
  if (due === 0 && !hasGone) return;
  await enqueue('preview', { collectionId: c.id });
  for (const end = Date.now() + PATIENCE; Date.now() < end;) {
    if (!(await isUnderWay(['preview'], c.id))) return;
    await new Promise((resolve) => setTimeout(resolve, LOOK));
  }
}

/** Prepares what is due for the preview of a delivery. */
export async function performPreview(collectionId: string, following: Following): Promise<void> {
  const c = await collectionById(collectionId);
  if (c) await prepareDocuments(c, following);
}

/** Whether documents are being compared and written: for a preview, or for a delivery that has not got to its target yet. */
async function isPreparing(collectionId: string, { prepared, documents }: DeliverySums): Promise<boolean> {
  if (await isUnderWay(['preview'], collectionId)) return true;
  return prepared < documents && (await isUnderWay(['delivery'], collectionId));
}

const sum = (of: unknown) => sql`coalesce(sum(${of}), 0)`.mapWith(Number);
const READ_BY_LINE = sql.join(
  FORMAT_IDS.filter(isReadByLine).map((f) => sql`${f}`),
  sql`, `,
);

/** What waits for delivery in all documents of a collection together, as far as it was prepared. */
export async function deliverySums(collectionId: string): Promise<DeliverySums & { comparedAt: Date | null }> {
  const db = await database();
  const d = preparedDocument;
  const isChanged = sql`${d.changes} > 0`;
  const format = sql`${d.document}->>'format'`;
  const [row] = await db
    .select({
      documents: sql`count(*)`.mapWith(Number),
      prepared: sql`count(*) filter (where ${d.due} is null)`.mapWith(Number),
      changes: sum(d.changes),
      changed: sql`count(*) filter (where ${isChanged})`.mapWith(Number),
      changedTexts: sql`count(*) filter (where ${isChanged} and ${format} in (${READ_BY_LINE}))`.mapWith(Number),
      waiting: sum(d.waiting),
      leftOutTexts: sum(sql`case when ${d.isLeftOut} then ${d.waiting} else 0 end`),
      leftOut: sql`count(*) filter (where ${d.isLeftOut})`.mapWith(Number),
      conflicts: sum(sql`case when ${d.isLeftOut} then 0 else ${d.conflicts} end`),
      refusals: sum(d.refusals),
      aside: sum(sql`case when ${d.isLeftOut} then 0 else ${d.aside} end`),
      comparedAt: sql<Date | null>`min(${d.comparedAt}) filter (where not ${d.isNew})`.mapWith(d.comparedAt),
      onlyFile: sql<string | null>`min(${d.document}->>'file') filter (where ${isChanged})`,
      onlyFormat: sql<string | null>`min(${format}) filter (where ${isChanged})`,
    })
    .from(d)
    .where(and(eq(d.collectionId, collectionId), isShown));
  const { onlyFile, onlyFormat, ...sums } = row!;
  const only = sums.changed === 1 ? ({ file: onlyFile, format: onlyFormat } as DeliverySums['only']) : null;
  return { ...sums, only };
}

/** Documents that say already what they are to say are no part of a delivery. */
const isShown = sql`(${preparedDocument.waiting} > 0 or ${preparedDocument.document} is null)`;

/**
 * A part of what a delivery would do: the documents that come after one.
 *
 * @param after as an earlier part gave it; null for the first
 */
export async function deliveryPreview(collectionId: string, after: number | null): Promise<DeliveryPreview> {
  const db = await database();
  const d = preparedDocument;
  const [isNew, position] = placeOf(after);
  const rows = await db
    .select({ document: d.document, isNew: d.isNew, position: d.position })
    .from(d)
    .where(
      and(
        eq(d.collectionId, collectionId),
        sql`${d.waiting} > 0 and ${d.document} is not null`,
        after === null ? undefined : or(gt(d.isNew, isNew), and(eq(d.isNew, isNew), gt(d.position, position))),
      ),
    )
    .orderBy(asc(d.isNew), asc(d.position))
    .limit(PREVIEW_PART + 1);
  const shown = rows.slice(0, PREVIEW_PART);
  const pages = shown.map((r) => r.document!);
  const ids = pages.flatMap((p) => p.changes.filter((x) => x.heard !== null).map((x) => x.appearanceId));
  const writers = await writersAt(db, ids);
  const last = shown.at(-1);
  const { comparedAt, ...sums } = await deliverySums(collectionId);
  return {
    sums,
    isPreparing: await isPreparing(collectionId, sums),
    comparedAt: comparedAt?.toISOString() ?? null,
    pages: pages.map((p) => ({
      ...p,
      changes: p.changes.map((x) => (x.heard === null ? x : { ...x, writtenBy: writers.get(x.appearanceId) ?? null })),
    })),
    next: rows.length > PREVIEW_PART && last ? numberOf(last) : null,
  };
}

/** New documents come after all others: their places as negative numbers. */
const numberOf = (r: { isNew: boolean; position: number }): number => (r.isNew ? -r.position : r.position);
const placeOf = (after: number | null): [isNew: boolean, position: number] => [(after ?? 0) < 0, Math.abs(after ?? 0)];
