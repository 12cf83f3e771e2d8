import { UserError } from '@/core/model/user-error';
import { and, eq, gte, sql } from 'drizzle-orm';
import type { Service, ServiceSettings } from '@/contract/drafting';
import { database, type Queryable } from '../db/database';
import { draftingCall, draftingConsent, draftingService } from '../db/schema';
import { seal } from '../secrets/seal';
import { hostOf, isLocal } from './service-address';
import { costOf, pictureTokens } from './service-cost';
import { forgetGate } from './service-gate';

export type ServiceRow = typeof draftingService.$inferSelect;

/** The services that are set up, by name. */
export async function listServices(): Promise<Service[]> {
  const db = await database();
  const rows = await db
    .select({ row: draftingService, spent: spentSince(sql`date_trunc('month', now())`) })
    .from(draftingService)
    .orderBy(draftingService.name);
  return rows.map(({ row: { key, at: _at, ...settings }, spent }) => ({
    ...settings,
    hasKey: key !== null,
    host: hostOf(settings.address),
    isLocal: isLocal(settings.address),
    spent,
  }));
}

const spentSince = (from: ReturnType<typeof sql>) =>
  sql`(select coalesce(sum(c.cost), 0) from ${draftingCall} c where c.service_id = drafting_service.id and c.at >= ${from})`.mapWith(
    Number,
  );

export async function serviceById(tx: Queryable, id: number): Promise<ServiceRow | null> {
  const [row] = await tx.select().from(draftingService).where(eq(draftingService.id, id));
  return row ?? null;
}

/** @throws Error in words when another service has the name */
async function assertFree(name: string, id: number | null): Promise<void> {
  const db = await database();
  const [other] = await db
    .select({ id: draftingService.id })
    .from(draftingService)
    .where(eq(draftingService.name, name));
  if (other && other.id !== id) throw new UserError(`There is a service named “${name}” already. Choose another name.`);
}

/** Sets a service up. The key is sealed and never given back. */
export async function addService({ key, ...settings }: ServiceSettings): Promise<number> {
  await assertFree(settings.name, null);
  const db = await database();
  const [row] = await db
    .insert(draftingService)
    .values({ ...settings, key: key ? await seal(key) : null })
    .returning({ id: draftingService.id });
  return row!.id;
}

/**
 * Changes a service. A key that is left out stays, unless the address leads to another host: a key is only ever sent to
 * the host that it was entered for.
 */
export async function changeService(id: number, { key, ...settings }: ServiceSettings): Promise<void> {
  await assertFree(settings.name, id);
  const db = await database();
  const before = await serviceById(db, id);
  if (!before) throw new UserError('There is no such service.');
  const moved = new URL(before.address).origin !== new URL(settings.address).origin;
  if (key === undefined && moved && before.key !== null)
    throw new UserError('The address leads to another host. Enter the key for that host, or empty it.');
  await db
    .update(draftingService)
    .set({ ...settings, ...(key === undefined ? {} : { key: key === '' ? null : await seal(key) }) })
    .where(eq(draftingService.id, id));
  forgetGate(id);
}

/** Removes a service with its key; drafts that it made stay. */
export async function removeService(id: number): Promise<void> {
  const db = await database();
  await db.delete(draftingService).where(eq(draftingService.id, id));
  forgetGate(id);
}

/** Whether pictures of a collection may be sent to a service: it is on this machine, or somebody has agreed. */
export async function hasConsent(tx: Queryable, collectionId: string, address: string): Promise<boolean> {
  if (isLocal(address)) return true;
  const [row] = await tx
    .select({ host: draftingConsent.host })
    .from(draftingConsent)
    .where(and(eq(draftingConsent.collectionId, collectionId), eq(draftingConsent.host, hostOf(address))));
  return row !== undefined;
}

/** Notes that somebody agrees that pictures of a collection and words around them are sent to a host. */
export async function giveConsent(collectionId: string, host: string): Promise<void> {
  const db = await database();
  await db.insert(draftingConsent).values({ collectionId, host }).onConflictDoNothing();
}

/** What a service was paid in this calendar month, with what is set aside for requests that are under way. */
export async function spentThisMonth(tx: Queryable, serviceId: number): Promise<number> {
  const [row] = await tx
    .select({ spent: sql`coalesce(sum(${draftingCall.cost}), 0)`.mapWith(Number) })
    .from(draftingCall)
    .where(and(eq(draftingCall.serviceId, serviceId), gte(draftingCall.at, sql`date_trunc('month', now())`)));
  return row!.spent;
}

/** Calls from which the mean cost of one is known. */
const ENOUGH = 5;
/** Tokens of a prompt and an answer as long as they usually are (measured on the demo), without the picture. */
const USUAL = { in: 900, out: 120 };
/** What a request is expected to cost: the mean of the last ones, else by the size of what is sent. */
export async function expectedCost(tx: Queryable, service: ServiceRow): Promise<number> {
  const last = tx
    .select({ cost: draftingCall.cost })
    .from(draftingCall)
    .where(and(eq(draftingCall.serviceId, service.id), eq(draftingCall.isSettled, true)))
    .orderBy(sql`${draftingCall.id} desc`)
    .limit(200)
    .as('last');
  const [row] = await tx
    .select({ n: sql`count(*)`.mapWith(Number), mean: sql`coalesce(avg(${last.cost}), 0)`.mapWith(Number) })
    .from(last);
  if (row!.n >= ENOUGH) return row!.mean;
  const picture = pictureTokens(service.maxSide, service.maxSide * 0.75);
  return costOf(service, USUAL.in + picture, USUAL.out);
}

/** What the requests of a round have cost, in the currency of its service. */
export async function spentIn(db: Queryable, roundId: number): Promise<number> {
  const [row] = await db
    .select({ spent: sql`coalesce(sum(${draftingCall.cost}), 0)`.mapWith(Number) })
    .from(draftingCall)
    .where(eq(draftingCall.roundId, roundId));
  return row!.spent;
}
