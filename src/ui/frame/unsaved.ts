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

/** Fields that are on the screen: each saves at once what is not saved yet of it. */
const fields = new Set<() => Promise<void>>();

/** Has a field be saved by {@link savesDone} too; gives back what ends that. */
export function noteField(flush: () => Promise<void>): () => void {
  fields.add(flush);
  return () => fields.delete(flush);
}

/**
 * Saves what is written, and resolves when that and what was left to be saved is saved, or could not be. Whatever undoes an
 * act waits for it: a save of the same act that came later would bring it back.
 */
export const savesDone = (): Promise<unknown> =>
  Promise.allSettled([...underWay, ...[...fields].map((flush) => flush())]);

export const unsavedCount = (): number => unsaved.size;

export function onUnsaved(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}
