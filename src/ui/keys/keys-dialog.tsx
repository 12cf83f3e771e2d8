'use client';

import { Dialog } from 'radix-ui';
import { useState, useSyncExternalStore, type KeyboardEvent } from 'react';
import { DialogContent } from '../primitives/dialog-content';
import { strings } from '../strings';
import { chordOf, isTaken } from './chord';
import { COMMANDS, PLACES, placeOf, type Command } from './commands';
import { ChordCaps, KeyButton } from './key-cap';
import { keyMap } from './key-map';
import { useCommands } from './use-commands';

/** Every key of every place, each of which can be changed, and the switch for single keys. */
export function KeysDialog() {
  const s = strings.keys;
  const map = keyMap();
  const changed = useSyncExternalStore(map.subscribe, map.get, map.get);
  const [open, setOpen] = useState(false);
  const [asking, setAsking] = useState<Command | null>(null);
  const [said, setSaid] = useState('');
  const [single, setSingle] = useState(true);
  const show = (wanted: boolean) => {
    if (wanted) setSingle(map.singleKeys);
    setAsking(null);
    setSaid('');
    setOpen(wanted);
  };
  useCommands({ 'all.help': () => show(true) });
  const take = (event: KeyboardEvent, command: Command) => {
    if (event.key === 'Tab') return;
    event.preventDefault();
    event.stopPropagation();
    if (event.key === 'Escape') return setAsking(null);
    const chord = chordOf(event.nativeEvent);
    if (chord === null) return;
    const other = map.takenBy(chord, command);
    if (isTaken(chord) || other) return setSaid(other ? s.usedBy(s.commands[other]) : s.taken);
    map.change(command, chord);
    setAsking(null);
    setSaid(s.changed(s.commands[command]));
  };
  return (
    <Dialog.Root open={open} onOpenChange={show}>
      <Dialog.Trigger asChild>
        <KeyButton command="all.help" isCapFirst className="text-left text-ink-2">
          {strings.spine.keys}
        </KeyButton>
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-30 bg-ink/30" />
        <DialogContent
          className="dialog wide"
          onEscapeKeyDown={(e) => {
            if (asking) e.preventDefault();
          }}
        >
          <Dialog.Title className="text-[20px] font-bold">{s.title}</Dialog.Title>
          <Dialog.Description className="mt-1 text-[14px] text-ink-2">{s.about}</Dialog.Description>
          <div className="mt-3 gap-x-8 sm:columns-2">
            {PLACES.map((place) => (
              <section key={place} aria-labelledby={`keys-${place}`} className="mb-4 break-inside-avoid">
                <h3 id={`keys-${place}`} className="rule-below text-[14px] font-bold">
                  {s.places[place]}
                </h3>
                <ul className="mt-1 text-[14px]">
                  {(Object.keys(COMMANDS) as Command[])
                    .filter((c) => placeOf(c) === place)
                    .map((c) => (
                      <li key={c} className="grid grid-cols-[minmax(0,1fr)_auto] items-baseline gap-x-2 py-0.5">
                        <span>{s.commands[c]}</span>
                        <button
                          type="button"
                          className="min-h-6 cursor-pointer text-right"
                          aria-pressed={asking === c}
                          onClick={() => {
                            setAsking(c);
                            setSaid(s.press);
                          }}
                          onKeyDown={(e) => {
                            if (asking === c) take(e, c);
                          }}
                          onBlur={() => setAsking(null)}
                        >
                          <span className="sr-only">{s.change(s.commands[c])}: </span>
                          {asking === c ? (
                            <i className="text-key">{s.pressShort}</i>
                          ) : (
                            <ChordCaps chord={map.chordsOf(c)[0]!} />
                          )}
                        </button>
                      </li>
                    ))}
                </ul>
              </section>
            ))}
          </div>
          <p role="status" className="mt-3 min-h-6 text-[14px]">
            {said}
          </p>
          <div className="mt-2 flex flex-wrap items-center justify-between gap-3">
            <span className="flex flex-wrap items-center gap-x-5 gap-y-1 text-[14px]">
              <label className="flex min-h-6 items-center gap-2">
                <input
                  type="checkbox"
                  checked={single}
                  onChange={(e) => {
                    map.switchSingleKeys(e.target.checked);
                    setSingle(e.target.checked);
                  }}
                />
                {s.singleOn}
              </label>
              {Object.keys(changed).length > 0 && (
                <button
                  type="button"
                  className="link"
                  onClick={() => {
                    map.reset();
                    setSaid(s.wasReset);
                  }}
                >
                  {s.reset}
                </button>
              )}
            </span>
            <Dialog.Close className="button">{s.close}</Dialog.Close>
          </div>
        </DialogContent>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
