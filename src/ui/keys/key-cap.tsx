'use client';

import { useSyncExternalStore, type ComponentProps } from 'react';
import { strings } from '../strings';
import type { Chord } from './chord';
import { COMMANDS, type Command } from './commands';
import { keyMap } from './key-map';

/** A chord as it stands on the keys. */
export function ChordCaps({ chord, isSaid = true }: { chord: Chord; isSaid?: boolean }) {
  return (
    // Next to its button, the button says it (`aria-keyshortcuts`); in a table of keys, the caps do.
    <span className="whitespace-nowrap" aria-hidden={isSaid ? undefined : true}>
      {chord.split(/\+(?=.)/).map((key) => (
        <kbd key={key} className="mr-1">
          {strings.keys.caps[key as keyof typeof strings.keys.caps] ?? key}
        </kbd>
      ))}
    </span>
  );
}

/** On the server nobody has changed a key. */
const NONE_CHANGED: Partial<Record<Command, Chord>> = {};

/** The key that a command has in this browser; named as `aria-keyshortcuts` wants it (WAI-ARIA 1.2, 6.6.26). */
function useKeyOf(command: Command): Chord {
  const map = keyMap();
  const changed = useSyncExternalStore(map.subscribe, map.get, () => NONE_CHANGED);
  return changed[command] ?? COMMANDS[command][0];
}

interface KeyButtonProps extends ComponentProps<'button'> {
  command: Command;
  /** The cap stands before the words. */
  isCapFirst?: boolean;
}

/** A button with the key that does the same, shown to the eye and told to the ear as a shortcut, not as its name. */
export function KeyButton({ command, isCapFirst = false, children, ...props }: KeyButtonProps) {
  const chord = useKeyOf(command);
  const cap = <ChordCaps chord={chord} isSaid={false} />;
  return (
    <button type="button" aria-keyshortcuts={chord} {...props}>
      {isCapFirst && <>{cap} </>}
      {children}
      {!isCapFirst && <> {cap}</>}
    </button>
  );
}
