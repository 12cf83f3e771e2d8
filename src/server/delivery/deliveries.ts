import { createReadStream, promises as fs } from 'node:fs';
import path from 'node:path';
import { and, asc, desc, eq, isNotNull } from 'drizzle-orm';
import type { Delivery, TargetId } from '@/contract/delivery';
import type { Message } from '@/core/model/message';
import { UserError } from '@/core/model/user-error';
import type { Collection } from '../catalogue/collections';
import { config } from '../config';
import { database, type Database, type Queryable } from '../db/database';
import { deliveredDocument, delivery } from '../db/schema';
import { progressOf, requestStop } from '../jobs/progress';
import { enqueue, transactionWithJobs } from '../jobs/queue';
import { targetById } from './targets';
import type { DeliveryContext } from './targets/target';

/** Refusals that are named. */
export const NAMED = 20;
/** Deliveries that are listed. */
const LISTED = 10;

/** Of a column of 32 bits. */
const MOST_ID = 2 ** 31 - 1;

export type DeliveryRow = typeof delivery.$inferSelect;

/** @throws UserError when there is no such delivery */
export async function rowOf(collectionId: string, id: number): Promise<DeliveryRow> {
  const db = await database();
  const [row] =
    Number.isInteger(id) && id > 0 && id <= MOST_ID
      ? await db
          .select()
          .from(delivery)
          .where(and(eq(delivery.collectionId, collectionId), eq(delivery.id, id)))
      : [];
  if (!row) throw new UserError({ id: 'delivery.unknown' }, 404);
  return row;
}

/** Where deliveries keep their files, each in a folder with its id. */
export const deliveriesFolder = (): string => path.join(/* turbopackIgnore: true */ config().dataDir, 'deliveries');

/** A delivery as its target knows it. */
export const contextOf = (row: DeliveryRow): DeliveryContext<Record<string, unknown>> => ({
  id: row.id,
  collectionId: row.collectionId,
  configuration: row.configuration,
  folder: path.join(deliveriesFolder(), String(row.id)),
  startedAt: row.at,
});

/**
 * Starts to deliver the documents of a collection with their accepted texts, in the background.
 *
 * @throws ZodError when the configuration is not what the target needs
 * @throws UserError when the target is not offered here or can take none
 * @returns id of the delivery
 */
export async function startDelivery(
  c: Collection,
  targetId: TargetId,
  asked: Record<string, unknown>,
): Promise<number> {
  const target = targetById(targetId);
  if (target.defaults(c) === null) throw new UserError({ id: 'target.not-offered' });
  const configuration = target.configuration.parse(asked);
  return transactionWithJobs(c.id, async (tx) => {
    const values = {
      collectionId: c.id,
      target: targetId,
      configuration,
      state: 'waiting',
      pages: 0,
      changes: 0,
    } as const;
    const [row] = await tx.insert(delivery).values(values).returning({ id: delivery.id });
    await enqueueDelivery(c.id, row!.id, tx);
    return row!.id;
  });
}

const enqueueDelivery = (collectionId: string, id: number, tx: Queryable) =>
  enqueue('delivery', { collectionId, delivery: id }, { key: `${collectionId} ${id}`, tx });

/** Notes that a delivery was given up, and why; what the target took of it stays. */
export async function failDelivery(id: number, reason: Message): Promise<void> {
  const db = await database();
  await db.update(delivery).set({ state: 'failed', reason }).where(eq(delivery.id, id));
}

/** Stops a delivery that is under way; it can be resumed. @throws UserError when there is no such delivery */
export async function stopDelivery(collectionId: string, id: number): Promise<void> {
  const row = await rowOf(collectionId, id);
  const db = await database();
  if (row.state === 'waiting') await db.update(delivery).set({ state: 'stopped' }).where(eq(delivery.id, id));
  if (row.state === 'running') await requestStop('delivery', collectionId);
}

/** Goes on with a delivery that was stopped or has failed. @throws UserError when there is no such delivery */
export async function resumeDelivery(collectionId: string, id: number): Promise<void> {
  const row = await rowOf(collectionId, id);
  if (row.state !== 'stopped' && row.state !== 'failed') return;
  await transactionWithJobs(collectionId, async (tx) => {
    await tx.update(delivery).set({ state: 'waiting', reason: null }).where(eq(delivery.id, id));
    await enqueueDelivery(collectionId, id, tx);
  });
}

/** Whether a delivery can be taken back. */
export const canUndo = ({ target, state }: Pick<DeliveryRow, 'target' | 'state'>): boolean =>
  targetById(target as TargetId).undo !== undefined && ['done', 'stopped', 'failed'].includes(state);

/** The latest deliveries of a collection, and those that are under way. */
export async function deliveriesOf(collectionId: string): Promise<Delivery[]> {
  const db = await database();
  const rows = await db
    .select()
    .from(delivery)
    .where(eq(delivery.collectionId, collectionId))
    .orderBy(desc(delivery.id))
    .limit(LISTED);
  return Promise.all(rows.map((row) => asDelivery(db, row)));
}

/** @throws UserError when there is no such delivery */
export async function deliveryById(collectionId: string, id: number): Promise<Delivery> {
  return asDelivery(await database(), await rowOf(collectionId, id));
}

async function asDelivery(db: Database, row: DeliveryRow): Promise<Delivery> {
  const target = targetById(row.target as TargetId);
  const withReason = and(eq(deliveredDocument.deliveryId, row.id), isNotNull(deliveredDocument.reason));
  const first = await db
    .select({ path: deliveredDocument.path, reason: deliveredDocument.reason })
    .from(deliveredDocument)
    .where(withReason)
    .orderBy(asc(deliveredDocument.path))
    .limit(NAMED);
  const { id, state, pages, total, changes, reason } = row;
  const share = state === 'running' || state === 'waiting' ? await shareOf(row) : null;
  return {
    ...{ id, target: target.id, state, share, pages, total, changes, reason },
    refused: {
      count: first.length < NAMED ? first.length : await db.$count(deliveredDocument, withReason),
      first: first.map((f) => ({ path: f.path, reason: f.reason! })),
    },
    folder: typeof row.configuration['folder'] === 'string' ? row.configuration['folder'] : null,
    file: row.fileName === null ? null : { name: row.fileName, bytes: row.fileBytes ?? 0 },
    canUndo: canUndo(row) && pages > 0,
    canVerify: target.verify !== undefined && state === 'done',
    at: row.at.toISOString(),
  };
}

/** How far a delivery is; of one that waits, how far the preview is that it waits for. */
async function shareOf({ collectionId, state }: DeliveryRow): Promise<number | null> {
  const kind = state === 'running' ? 'delivery' : 'preview';
  return (await progressOf(collectionId)).find((job) => job.kind === kind)?.share ?? null;
}

/**
 * The file of a delivery, to be downloaded in parts.
 *
 * @returns what it is called, its bytes, what tells it from another, and a stream of a part of it, both ends included
 * @throws UserError when there is none any more
 */
export async function fileOfDelivery(collectionId: string, id: number) {
  const row = await rowOf(collectionId, id);
  if (row.fileName === null) throw new UserError({ id: 'delivery.no-file' }, 404);
  const file = path.join(contextOf(row).folder, row.fileName);
  const stat = await fs.stat(file).catch(() => null);
  if (!stat) throw new UserError({ id: 'delivery.no-file' }, 404);
  return {
    name: row.fileName,
    bytes: stat.size,
    etag: `"${id}-${stat.size}-${Math.round(stat.mtimeMs)}"`,
    open: (start: number, end: number) => createReadStream(file, { start, end }),
  };
}
