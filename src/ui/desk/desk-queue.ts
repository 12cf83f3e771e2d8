import type { Queue } from '@/contract/galley';

/**
 * The pictures that are worked through, fixed when the Desk was opened: what is found or changes meanwhile joins them
 * only when the editor says so, so that a pile that one works through gets smaller.
 */
export interface Pile extends Queue {
  /** The picture that the Desk was opened with. */
  from: number;
}

/** Where a picture stands in a pile. */
export interface QueueStep {
  /** From 1; null for a picture that is not in it. */
  position: number | null;
  total: number;
  previous: number | null;
  next: number | null;
  /** What comes after it, in order. */
  ahead: readonly number[];
}

/**
 * @param last the picture of the pile that was shown last: where one is elsewhere, at a similar picture for one, the way
 *   goes on from there
 */
export function stepOf({ ids }: Queue, picture: number, last: number): QueueStep {
  const total = ids.length;
  const at = ids.indexOf(picture);
  if (at >= 0)
    return {
      position: at + 1,
      total,
      previous: ids[at - 1] ?? null,
      next: ids[at + 1] ?? null,
      ahead: ids.slice(at + 1),
    };
  const left = ids.indexOf(last);
  return {
    position: null,
    total,
    previous: ids[left] ?? null,
    next: ids[left + 1] ?? null,
    ahead: ids.slice(left + 1),
  };
}

/** The pictures of a view that are not in the pile yet, in the view's order. */
export function newIn({ ids }: Queue, now: Queue): number[] {
  const known = new Set(ids);
  return now.ids.filter((id) => !known.has(id));
}

const keyOf = (collection: string, query: string) => `detto.pile.${collection}?${query}`;

/** The pile that is worked through in this tab, which a reload and a look elsewhere leave as it is. */
export function storedQueue(collection: string, query: string): Pile | null {
  try {
    return JSON.parse(sessionStorage.getItem(keyOf(collection, query)) ?? 'null') as Pile | null;
  } catch {
    return null;
  }
}

export function storeQueue(collection: string, query: string, queue: Pile): void {
  sessionStorage.setItem(keyOf(collection, query), JSON.stringify(queue));
}

/** A new look at the Galley begins new piles. */
export function dropQueues(collection: string): void {
  for (const key of Object.keys(sessionStorage))
    if (key.startsWith(keyOf(collection, ''))) sessionStorage.removeItem(key);
}
