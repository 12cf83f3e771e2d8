/** Texts that could not be saved yet, by the key of their picture and place. */
const unsaved = new Set<string>();
const listeners = new Set<() => void>();

/** Under which name the browser keeps a text that is not saved yet. */
export const backupKey = (key: string): string => `detto.unkept.${key}`;

/** The keys of what the browser keeps of a collection. */
export const backupsOf = (storage: Storage, collection: string): string[] =>
  Object.keys(storage).filter((key) => key.startsWith(backupKey(`${collection}/`)));

export function noteUnsaved(key: string, isUnsaved: boolean): void {
  if (isUnsaved === unsaved.has(key)) return;
  if (isUnsaved) unsaved.add(key);
  else unsaved.delete(key);
  for (const listener of listeners) listener();
}

/** Saves that nobody waits for any more, because the editor has gone on. */
const underWay = new Set<Promise<void>>();

export function noteSave(save: Promise<void>): void {
  underWay.add(save);
  void save.finally(() => underWay.delete(save));
}

/** Resolves when what was left to be saved is saved, or could not be. */
export const savesDone = (): Promise<unknown> => Promise.allSettled([...underWay]);

export const unsavedCount = (): number => unsaved.size;

export function onUnsaved(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}
