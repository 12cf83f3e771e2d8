import { promises as fs } from 'node:fs';
import path from 'node:path';
import { and, desc, eq, inArray, isNotNull } from 'drizzle-orm';
import type { TargetId } from '@/contract/delivery';
import type { Message } from '@/core/model/message';
import { UserError } from '@/core/model/user-error';
import { collectionById, type Collection } from '../catalogue/collections';
import { announceChange } from '../changes';
import { database, type Database } from '../db/database';
import { meansDatabaseDown } from '../db/database-errors';
import { deliveredDocument, delivery } from '../db/schema';
import { meansDiskFull } from '../disk';
import { log, messageOf } from '../log';
import { isSurveying, startSurvey } from '../survey/surveys';
import { countDeliverable, deliverable } from './deliverable';
import { textsGoingInto } from './delivered-texts';
import { contextOf, deliveriesFolder, failDelivery, rowOf, type DeliveryRow } from './deliveries';
import { planDelivery } from './plan';
import { prepareDocuments, type Following } from './prepare-documents';
import { Receipts } from './receipts';
import { targetById } from './targets';
import { DocumentRefusedError } from './targets/target';

/** Seconds for which a comparison holds when words go back. */
const COMPARED_HOLDS = 60;
/** Downloads of a collection that are kept. */
const KEPT_DOWNLOADS = 3;
/** Of the whole, what preparing takes. */
const SHARE_OF_PREPARING = 0.8;

/**
 * Does what is left of a delivery: compares with the documents as they are now, writes what is not written yet, and gives
 * them to the target one by one. It goes on where an earlier process ended.
 *
 * @throws DatabaseDownError to be tried again; what else goes wrong is noted with the delivery
 */
export async function performDelivery(collectionId: string, id: number, following: Following): Promise<void> {
  const c = await collectionById(collectionId);
  const row = await rowOf(collectionId, id).catch(() => null);
  if (!c || !row || (row.state !== 'waiting' && row.state !== 'running')) return;
  const db = await database();
  const set = (values: Partial<DeliveryRow>) => db.update(delivery).set(values).where(eq(delivery.id, id));
  try {
    await set({ state: 'running' });
    const isDone = await prepareAndGive(db, c, row, following);
    // One that an editor stops stays where it is; one whose process ends goes on at the next start.
    if (!isDone) return void (following.signal.reason === 'stopped' && (await set({ state: 'stopped' })));
    await removeOldDownloads(db, collectionId);
  } catch (error) {
    if (meansDatabaseDown(error)) throw error;
    if (!(error instanceof UserError)) log.error({ message: messageOf(error), delivery: id }, 'a delivery failed');
    return failDelivery(id, whyFailed(error));
  }
  await afterDelivery(c, row);
}

function whyFailed(error: unknown): Message {
  if (error instanceof UserError) return error.reason;
  return { id: meansDiskFull(error) ? 'error.disk-full' : 'delivery.unexpected' };
}

/** @returns whether all was given to the target; false when it was stopped before */
async function prepareAndGive(
  db: Database,
  c: Collection,
  row: DeliveryRow,
  { signal, report }: Following,
): Promise<boolean> {
  // It would read some of the files before they are written, and some after that.
  if (isSurveyed(c, row) && (await isSurveying(c.id))) throw new UserError({ id: 'delivery.survey-runs' });
  await planDelivery(c, COMPARED_HOLDS);
  await prepareDocuments(c, { signal, report: (share) => report(share * SHARE_OF_PREPARING) });
  if (signal.aborted) return false;
  const target = targetById(row.target as TargetId);
  const mine = eq(delivery.id, row.id);
  const total = await countDeliverable(db, c.id, target.takes);
  await db.update(delivery).set({ total }).where(mine);
  if (!target.keepsWhatItTook) await db.delete(deliveredDocument).where(eq(deliveredDocument.deliveryId, row.id));
  const receipts = new Receipts(db, row.id);
  const taken = await receipts.paths();
  const writer = await target.open(contextOf(row));
  try {
    let done = 0;
    for await (const document of deliverable(db, c.id, target.takes)) {
      if (signal.aborted) break;
      if (!taken.has(document.path)) {
        const texts = isSurveyed(c, row) ? await textsGoingInto(db, c.id, document.path) : null;
        const result = await writer.write(document).catch(refusalOf);
        await receipts.put(document, result, target.keepsWhatItTook, texts);
      }
      report(SHARE_OF_PREPARING + ((1 - SHARE_OF_PREPARING) * ++done) / total);
    }
    await receipts.written();
    const sums = await receipts.sums();
    if (signal.aborted) {
      await writer.abandon();
      if (target.keepsWhatItTook) await db.update(delivery).set(sums).where(mine);
      return false;
    }
    const file = await writer.finish();
    const named = { fileName: file?.name ?? null, fileBytes: file?.bytes ?? null };
    await db
      .update(delivery)
      .set({ state: 'done', ...sums, ...named })
      .where(mine);
    return true;
  } catch (error) {
    await writer.abandon();
    throw error;
  }
}

function refusalOf(error: unknown): Message {
  if (error instanceof DocumentRefusedError) return error.reason;
  throw error;
}

/** Whether a delivery goes into the very folder that is surveyed, so that a survey finds there what it has written. */
export const isSurveyed = (c: Collection, { configuration }: DeliveryRow): boolean =>
  c.kind === 'folder' && configuration['folder'] === c.root;

/** What follows when a delivery was made or taken back: whoever looks at the collection, and its next survey, have to know. */
export async function afterDelivery(c: Collection, row: DeliveryRow): Promise<void> {
  announceChange({ collectionId: c.id, pictures: null });
  if (isSurveyed(c, row)) await startSurvey(c.id).catch(() => undefined);
}

/** Removes the downloads of collections that are gone; copies of what was replaced somewhere stay, because nothing else has them. */
export async function removeLeftDownloads(): Promise<void> {
  const db = await database();
  const known = new Set((await db.select({ id: delivery.id }).from(delivery)).map((row) => String(row.id)));
  for (const name of await fs.readdir(deliveriesFolder()).catch(() => [])) {
    if (known.has(name)) continue;
    const folder = path.join(deliveriesFolder(), name);
    const files = await fs.readdir(folder, { withFileTypes: true });
    for (const file of files) if (file.isFile()) await fs.rm(path.join(folder, file.name));
    if (files.every((file) => file.isFile())) await fs.rmdir(folder);
  }
}

/** The latest downloads of a collection stay, so that they can be taken once more; older ones go. */
async function removeOldDownloads(db: Database, collectionId: string): Promise<void> {
  const rows = await db
    .select()
    .from(delivery)
    .where(and(eq(delivery.collectionId, collectionId), isNotNull(delivery.fileName)))
    .orderBy(desc(delivery.id))
    .offset(KEPT_DOWNLOADS);
  for (const row of rows) await fs.rm(path.join(contextOf(row).folder, row.fileName!), { force: true });
  const ids = rows.map((r) => r.id);
  if (ids.length > 0)
    await db.update(delivery).set({ fileName: null, fileBytes: null }).where(inArray(delivery.id, ids));
}
