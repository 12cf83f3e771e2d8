import { z } from 'zod';
import type { Chord } from './chord';
import { COMMANDS, overlaps, type Command } from './commands';

const SETTING = 'detto.keys';
const SINGLE = 'detto.single-keys';

const Stored = z.partialRecord(z.enum(Object.keys(COMMANDS) as [Command, ...Command[]]), z.string().max(40));

/** The keys of this browser's user: those that every command has at first, but for the ones that were changed. */
export class KeyMap {
  private own: Partial<Record<Command, Chord>>;
  private readonly listeners = new Set<() => void>();

  constructor(private readonly storage: Pick<Storage, 'getItem' | 'setItem' | 'removeItem'>) {
    this.own = this.read();
  }

  private read(): Partial<Record<Command, Chord>> {
    try {
      return Stored.parse(JSON.parse(this.storage.getItem(SETTING) ?? '{}'));
    } catch {
      return {};
    }
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** What was changed, the same object until something else is. */
  readonly get = (): Partial<Record<Command, Chord>> => this.own;

  chordsOf(command: Command): readonly Chord[] {
    const own = this.own[command];
    return own === undefined ? COMMANDS[command] : [own];
  }

  /** Single keys can be switched off as a whole (WCAG 2.2, 2.1.4). */
  get singleKeys(): boolean {
    return this.storage.getItem(SINGLE) !== 'off';
  }

  switchSingleKeys(on: boolean): void {
    this.storage.setItem(SINGLE, on ? 'on' : 'off');
    this.tell();
  }

  /** The other command that a chord would be in the way of; null when it is free. */
  takenBy(chord: Chord, command: Command): Command | null {
    const all = Object.keys(COMMANDS) as Command[];
    return all.find((c) => c !== command && overlaps(c, command) && this.chordsOf(c).includes(chord)) ?? null;
  }

  change(command: Command, chord: Chord): void {
    this.own = { ...this.own, [command]: chord };
    this.save();
  }

  reset(): void {
    this.own = {};
    this.save();
  }

  private save(): void {
    if (Object.keys(this.own).length === 0) this.storage.removeItem(SETTING);
    else this.storage.setItem(SETTING, JSON.stringify(this.own));
    this.tell();
  }

  private tell(): void {
    for (const listener of this.listeners) listener();
  }
}

/** On the server, and where the browser keeps nothing, commands have the keys that they have at first. */
const FORGETFUL = { getItem: () => null, setItem: () => {}, removeItem: () => {} };

let map: KeyMap | null = null;

export function keyMap(): KeyMap {
  if (typeof window === 'undefined') return new KeyMap(FORGETFUL);
  try {
    return (map ??= new KeyMap(window.localStorage));
  } catch {
    return (map ??= new KeyMap(FORGETFUL));
  }
}
