'use client';

import { useEffect, useRef } from 'react';
import { chordOf, isSingleKey } from './chord';
import { keyMap } from './key-map';
import type { Command } from './commands';

/** Does what the command says; `false` leaves the key to the browser. */
type Run = (event: KeyboardEvent) => void | boolean;

/** Whether keys write into an element. */
export function isEditable(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable ||
      target.closest('input:not([type=checkbox],[type=radio]), textarea, select, [role=listbox], [role=combobox]') !==
        null)
  );
}

const OPEN = '[role=dialog], [role=alertdialog], [role=listbox]:not([data-inline])';

/** The command among some that a key event means; null for none. */
export function commandOf<C extends Command>(event: KeyboardEvent, commands: readonly C[]): C | null {
  const chord = chordOf(event);
  if (chord === null) return null;
  const map = keyMap();
  if (isSingleKey(chord) && !map.singleKeys) return null;
  return commands.find((c) => map.chordsOf(c).includes(chord)) ?? null;
}

/**
 * Commands that act wherever the focus is, while no dialog or list is open. Keys that write characters act only outside
 * of fields.
 */
export function useCommands(commands: Partial<Record<Command, Run>>): void {
  const latest = useRef(commands);
  useEffect(() => {
    latest.current = commands;
  });
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.defaultPrevented || document.querySelector(OPEN)) return;
      const chord = chordOf(event);
      if (chord === null || (isSingleKey(chord) && isEditable(event.target))) return;
      const command = commandOf(event, Object.keys(latest.current) as Command[]);
      if (!command || latest.current[command]!(event) === false) return;
      event.preventDefault();
    };
    document.addEventListener('keydown', press);
    return () => document.removeEventListener('keydown', press);
  }, []);
}
