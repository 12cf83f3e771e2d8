import { EventEmitter } from 'node:events';

/** What somebody's act, or a job, has changed in a collection. */
export interface Change {
  collectionId: string;
  /** Pictures whose words, drafts, purposes or findings changed; null where it may be any of them. */
  pictures: readonly number[] | null;
}

/** Of more pictures, open windows ask for everything that they show. */
const MOST_NAMED = 500;

/** One for the process, across the bundles that Next makes of the server. */
const shared = globalThis as typeof globalThis & { dettoChanges?: EventEmitter };
const changes = (shared.dettoChanges ??= new EventEmitter().setMaxListeners(0));

/** Says to all open windows of a collection that something has changed; called once it is committed. */
export function announceChange({ collectionId, pictures }: Change): void {
  const named = pictures !== null && pictures.length <= MOST_NAMED ? pictures : null;
  changes.emit('change', { collectionId, pictures: named } satisfies Change);
}

/** Calls back at every change of a collection; gives back what ends that. */
export function onChange(collectionId: string, changed: (change: Change) => void): () => void {
  const listener = (change: Change) => {
    if (change.collectionId === collectionId) changed(change);
  };
  changes.on('change', listener);
  return () => changes.off('change', listener);
}
