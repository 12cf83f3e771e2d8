'use client';

import { useSyncExternalStore } from 'react';
import { strings } from '../strings';
import type { Chord } from './chord';
import { COMMANDS, type Command } from './commands';
import { keyMap } from './key-map';

/** A chord as it stands on the keys. */
export function ChordCaps({ chord }: { chord: Chord }) {
  return (
    <span className="whitespace-nowrap">
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

/** The key that a command has in this browser. */
export function KeyCap({ of }: { of: Command }) {
  const map = keyMap();
  const changed = useSyncExternalStore(map.subscribe, map.get, () => NONE_CHANGED);
  return <ChordCaps chord={changed[of] ?? COMMANDS[of][0]} />;
}
