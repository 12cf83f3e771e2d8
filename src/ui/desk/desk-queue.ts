import type { Queue } from '@/contract/galley';

/** Pictures that are left before more are asked for. */
const NEAR = 12;

/** Joins what comes before or after to a queue; one that has nothing in common with it takes its place. */
export function joinQueues(known: Queue, more: Queue): Queue {
  const at = more.ids.findIndex((id) => known.ids.includes(id));
  if (at < 0) return more;
  const there = new Set(known.ids);
  const first = known.ids.indexOf(more.ids[at]!);
  const before = more.ids.slice(0, at).filter((id) => !there.has(id));
  // Only what lies beyond the ends is new; what was done meanwhile keeps its place between them.
  const last = more.ids.findLastIndex((id) => there.has(id));
  const after = more.ids.slice(last + 1).filter((id) => !there.has(id));
  return {
    position: Math.max(1, first === 0 ? known.position - before.length : known.position),
    total: Math.max(known.total, known.position - 1 + known.ids.length + after.length),
    ids: first === 0 ? [...before, ...known.ids, ...after] : [...known.ids, ...after],
  };
}

/** Where a picture stands in a queue. */
export interface QueueStep {
  /** From 1; null where the queue does not know the picture. */
  position: number | null;
  total: number;
  previous: number | null;
  next: number | null;
  /** What comes after it, as far as that is known. */
  ahead: readonly number[];
  /** The picture from which more has to be asked for; null where enough is known. */
  wants: number | null;
}

export function stepOf({ position, total, ids }: Queue, picture: number): QueueStep {
  const at = ids.indexOf(picture);
  if (at < 0) return { position: null, total, previous: null, next: null, ahead: [], wants: picture };
  const isOpenAfter = position + ids.length - 1 < total;
  const isOpenBefore = position > 1;
  const wants = isOpenAfter && at >= ids.length - NEAR ? ids.at(-1)! : isOpenBefore && at < NEAR ? ids[0]! : null;
  return {
    position: position + at,
    total,
    previous: ids[at - 1] ?? null,
    next: ids[at + 1] ?? null,
    ahead: ids.slice(at + 1),
    wants,
  };
}

const keyOf = (collection: string, query: string) => `detto.queue.${collection}?${query}`;

/** The queue that is worked through in this tab, which a reload and a look elsewhere leave as it is. */
export function storedQueue(collection: string, query: string): Queue | null {
  try {
    return JSON.parse(sessionStorage.getItem(keyOf(collection, query)) ?? 'null') as Queue | null;
  } catch {
    return null;
  }
}

export function storeQueue(collection: string, query: string, queue: Queue): void {
  sessionStorage.setItem(keyOf(collection, query), JSON.stringify(queue));
}

/** A new look at the Galley begins new queues. */
export function dropQueues(collection: string): void {
  for (const key of Object.keys(sessionStorage))
    if (key.startsWith(keyOf(collection, ''))) sessionStorage.removeItem(key);
}
