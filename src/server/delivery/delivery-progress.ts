import type { DeliveryProgress } from '@/contract/delivery';

/** Deliveries that are being prepared in this process, the latest of each collection. */
const preparing = new Map<string, DeliveryProgress>();

/** How many documents of a delivery were compared with what was surveyed and written; null while none is prepared. */
export const deliveryProgress = (collectionId: string): DeliveryProgress | null => preparing.get(collectionId) ?? null;

/**
 * Follows the preparing of a delivery.
 *
 * @param work is given what it calls after each document
 * @param total documents
 */
export async function withProgress<T>(
  collectionId: string,
  total: number,
  work: (done: () => void) => Promise<T>,
): Promise<T> {
  const progress = { done: 0, total };
  preparing.set(collectionId, progress);
  try {
    return await work(() => void progress.done++);
  } finally {
    if (preparing.get(collectionId) === progress) preparing.delete(collectionId);
  }
}
