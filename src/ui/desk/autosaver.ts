import { z } from 'zod';
import { hasGaps } from '@/core/draft/draft';

const PAUSE_MS = 700;
const RETRY_MS = 4000;

const Backup = z.object({
  since: z.number().optional(),
  text: z.string(),
  act: z.string().min(1),
  /** What was saved when it was written. */
  base: z.string(),
  /** The places that it is for. */
  places: z.union([z.literal('all'), z.array(z.number())]).optional(),
  by: z.enum(['person', 'drafter']).default('person'),
  /** Milliseconds since 1970. */
  at: z.number().default(0),
});
export type Backup = z.infer<typeof Backup>;

/** What a backup says; null for none, or one that cannot be understood. */
export function readBackup(stored: string | null): Backup | null {
  try {
    return Backup.parse(JSON.parse(stored ?? 'null'));
  } catch {
    return null;
  }
}

export interface Written {
  text: string;
  /** Places the words are for, by id, or every place of the picture. */
  places: ReadonlySet<number> | 'all';
  by: 'person' | 'drafter';
}

/** The outcome of a text: between what a person has to choose now, and from what the next one is written. */
interface Saved {
  conflicts: readonly unknown[];
  revision: number;
}

/** Nothing is given back where a text has no versions. */
type Save = (written: Written, act: string, since: number) => Promise<Saved | void>;

const STATUSES = ['untouched', 'saved', 'unsaved', 'saving', 'conflict', 'problem'] as const;
export type SaveStatus = (typeof STATUSES)[number];

/** Of two texts that are saved apart, the state that has to be shown. */
export const moreUrgent = (a: SaveStatus, b: SaveStatus): SaveStatus =>
  STATUSES[Math.max(STATUSES.indexOf(a), STATUSES.indexOf(b))]!;

export interface AutosaveState {
  value: Written;
  status: SaveStatus;
  /** Where somebody else has saved other words meanwhile, as of the last save. */
  conflicts: readonly unknown[];
  /** What somebody else has saved while this was written; null when nobody has. */
  meanwhile: string | null;
}

/**
 * Saves what is written a moment after the last change, all of it under one act. What is not saved yet is
 * backed up in the browser, so that nothing is lost on reload or while Detto is away.
 */
export class Autosaver {
  private save: Save = () => Promise.resolve();
  private state: AutosaveState;
  private act = '';
  private dirty = false;
  private leaving = false;
  /** What is known to be saved. */
  private base: string;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private saving: Promise<void> = Promise.resolve();
  private readonly listeners = new Set<() => void>();

  /**
   * @param backup name under which unsaved words are backed up
   * @param storage where they are
   * @param since the revision that the words are written from
   */
  constructor(
    private readonly backup: string,
    initial: Written,
    private readonly storage: () => Pick<Storage, 'getItem' | 'setItem' | 'removeItem'>,
    private since = 0,
  ) {
    this.state = { value: initial, status: 'untouched', conflicts: [], meanwhile: null };
    this.base = initial.text;
  }

  readonly get = (): AutosaveState => this.state;

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** What saves words from now on. */
  saveWith(save: Save): void {
    this.save = save;
  }

  private set(changed: Partial<AutosaveState>): void {
    this.state = { ...this.state, ...changed };
    for (const listener of this.listeners) listener();
  }

  change(next: Partial<Written>): void {
    this.act ||= crypto.randomUUID();
    this.dirty = true;
    const value = { ...this.state.value, ...next };
    this.backUp({
      text: value.text,
      act: this.act,
      base: this.base,
      since: this.since,
      places: value.places === 'all' ? 'all' : [...value.places],
      by: value.by,
      at: Date.now(),
    });
    this.set({ value, status: 'unsaved' });
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.flush(), PAUSE_MS);
  }

  /** Where the browser's own storage is full or switched off, the words are saved all the same, a moment later. */
  private backUp(backup: Backup): void {
    try {
      this.storage().setItem(this.backup, JSON.stringify(backup));
    } catch {
      // Nothing to fall back on, and nothing that the person could do now.
    }
  }

  /** The act under which words are saved at the moment; empty when none were changed. */
  get currentAct(): string {
    return this.act;
  }

  /** The revision that the words are written from. */
  get startedFrom(): number {
    return this.since;
  }

  /** Saves at once what is not saved yet; resolves when nothing is under way any more. */
  flush(): Promise<void> {
    clearTimeout(this.timer);
    return (this.saving = this.saving.then(() => this.saveChange()));
  }

  private async saveChange(): Promise<void> {
    // What still asks something is nobody's words yet; the browser keeps it until it is filled.
    if (!this.dirty || hasGaps(this.state.value.text)) return;
    this.dirty = false;
    this.set({ status: 'saving' });
    try {
      const { value } = this.state;
      const answer = await this.save(value, this.act, this.since);
      const conflicts = answer?.conflicts ?? [];
      if (answer && conflicts.length === 0) this.since = answer.revision;
      this.base = value.text;
      this.set({ conflicts, meanwhile: null });
      // The page that comes next may have been drawn before this was saved; it needs the backup.
      if (this.dirty || this.leaving) return;
      this.storage().removeItem(this.backup);
      this.set({ status: conflicts.length > 0 ? 'conflict' : 'saved' });
    } catch {
      this.dirty = true;
      this.set({ status: 'problem' });
      this.timer = setTimeout(() => void this.flush(), RETRY_MS);
    }
  }

  /** The page is about to be left: what is not saved yet is saved, and stays backed up for the next one. */
  leave(): void {
    this.leaving = true;
    void this.flush();
  }

  /** What was written is taken back elsewhere: it is not saved any more, and later changes are a new act. */
  forget(text = this.state.value.text): void {
    clearTimeout(this.timer);
    this.dirty = false;
    this.act = '';
    this.storage().removeItem(this.backup);
    this.set({
      value: { ...this.state.value, text, by: 'person' },
      status: 'untouched',
      conflicts: [],
      meanwhile: null,
    });
  }

  /** The page says something else by now; it shows as long as nothing was written here. */
  syncFromServer(text: string, since = this.since): void {
    // What was written here is saved, and somebody has changed it since.
    const isNewer =
      this.state.status === 'saved' && since >= this.since && text.trim() !== this.state.value.text.trim();
    if (isNewer) {
      this.act = '';
      this.set({ status: 'untouched' });
    }
    if (this.act === '') {
      this.base = text;
      this.since = since;
    }
    if (this.act === '' && text !== this.state.value.text) this.set({ value: { ...this.state.value, text } });
    const isForeign =
      this.act !== '' && since >= this.since && text !== this.base && text.trim() !== this.state.value.text.trim();
    const meanwhile = isForeign ? text : null;
    if (meanwhile !== this.state.meanwhile) this.set({ meanwhile });
  }

  /**
   * Takes up what an earlier page could not save any more, under its act, so that it is not saved twice, and from the
   * state that it was written from, so that words which others saved since are not replaced by it.
   */
  restore(): void {
    const left = readBackup(this.storage().getItem(this.backup));
    const now = this.state.value.text;
    if (!left || left.text === now) return this.storage().removeItem(this.backup);
    this.act = left.act;
    // Of a text that was written from another state than is shown, the server decides.
    this.since = left.since ?? (left.base === now ? this.since : 0);
    const { places } = left;
    this.change({ text: left.text, ...(places ? { places: places === 'all' ? places : new Set(places) } : {}) });
  }
}
