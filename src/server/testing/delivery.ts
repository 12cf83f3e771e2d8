import type { DeliveryPage, TargetId } from '@/contract/delivery';
import type { Collection } from '../catalogue/collections';
import { collectionById } from '../catalogue/collections';
import { deliveryById, fileOfDelivery, startDelivery } from '../delivery/deliveries';
import { performDelivery } from '../delivery/perform-delivery';
import { planDelivery } from '../delivery/plan';
import { prepareDocuments } from '../delivery/prepare-documents';
import { deliveryPreview } from '../delivery/preview';

const following = () => ({ signal: new AbortController().signal, report: () => undefined });
const isWorking = () => Boolean((globalThis as { dettoWorker?: unknown }).dettoWorker);

/** Everything that a delivery would do now, for tests. */
export async function previewed({ id, style }: Pick<Collection, 'id' | 'style'>): Promise<DeliveryPage[]> {
  const c = { ...(await collectionById(id))!, style };
  await planDelivery(c, 0);
  await prepareDocuments(c, following());
  const pages: DeliveryPage[] = [];
  for (let after: number | null = null; ;) {
    const part = await deliveryPreview(id, after);
    pages.push(...part.pages);
    if (part.next === null) return pages;
    after = part.next;
  }
}

/** Delivers, in the background where jobs are done and at once where none are, for tests. @returns id of the delivery */
export async function delivered(
  { id }: Pick<Collection, 'id'>,
  target: TargetId,
  configuration: Record<string, unknown> = {},
): Promise<number> {
  const own = await startDelivery((await collectionById(id))!, target, configuration);
  if (!isWorking()) await performDelivery(id, own, following());
  while (['waiting', 'running'].includes((await deliveryById(id, own)).state))
    await new Promise((resolve) => setTimeout(resolve, 20));
  return own;
}

/** The file that a delivery makes now, for tests. */
export async function downloaded(
  c: Pick<Collection, 'id'>,
  target: TargetId,
): Promise<{ name: string; bytes: Buffer }> {
  const file = await fileOfDelivery(c.id, await delivered(c, target));
  const parts: Buffer[] = [];
  if (file.bytes > 0) for await (const part of file.open(0, file.bytes - 1)) parts.push(part as Buffer);
  return { name: file.name, bytes: Buffer.concat(parts) };
}
