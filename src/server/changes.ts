import { EventEmitter } from 'node:events';
import type { Change, ChangeReceiver, ChangesPort } from './ports/changes';

export type { Change } from './ports/changes';

/** Of more pictures, open windows ask for everything that they show. */
const MOST_NAMED = 500;

interface Changes {
  emitter: EventEmitter;
  /** What carries changes to other processes; null where there are none. */
  carrier: ChangesPort | null;
}
/** One for the process, across the bundles that Next makes of the server. */
const shared = globalThis as typeof globalThis & { dettoChanges?: Changes };
const changes = (shared.dettoChanges ??= { emitter: new EventEmitter().setMaxListeners(0), carrier: null });

/** Says to all open windows of a collection that something has changed; called once it is committed. */
export function announceChange({ collectionId, pictures }: Change): void {
  const named = pictures !== null && pictures.length <= MOST_NAMED ? pictures : null;
  const change: Change = { collectionId, pictures: named };
  changes.emitter.emit('change', change);
  changes.carrier?.send(change);
}

/** Calls back at every change of a collection, in any process; gives back what ends that. */
export function onChange(collectionId: string, changed: (change: Change) => void): () => void {
  const listener = (change: Change) => {
    if (change.collectionId === collectionId) changed(change);
  };
  const missed = () => changed({ collectionId, pictures: null });
  changes.emitter.on('change', listener).on('missed', missed);
  return () => changes.emitter.off('change', listener).off('missed', missed);
}

/** Has changes carried to other processes from now on; null ends that. Gives back where theirs arrive. */
export function carryChanges(carrier: ChangesPort | null): ChangeReceiver {
  changes.carrier = carrier;
  return {
    receive: (change) => void changes.emitter.emit('change', change),
    missed: () => void changes.emitter.emit('missed'),
  };
}
