'use client';

import { useSyncExternalStore } from 'react';
import { strings } from '../strings';
import type { Chord } from './chord';
import type { Command } from './commands';
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

/** The key that a command has in this browser. */
export function KeyCap({ of }: { of: Command }) {
  const map = keyMap();
  useSyncExternalStore(map.subscribe, map.get, map.get);
  return <ChordCaps chord={map.chordsOf(of)[0]!} />;
}
