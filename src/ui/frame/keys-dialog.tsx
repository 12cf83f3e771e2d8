'use client';

import { Dialog } from 'radix-ui';
import { useState } from 'react';
import { strings } from '../strings';
import { setSingleKeys, singleKeysOn, useKeys } from '../primitives/keys';

/** The keys of every place, and the switch that turns single keys off. */
export function KeysDialog() {
  const s = strings.keys;
  const [open, setOpen] = useState(false);
  const [on, setOn] = useState(true);
  const show = (wanted: boolean) => {
    if (wanted) setOn(singleKeysOn());
    setOpen(wanted);
  };
  useKeys({ '?': () => show(true) });
  return (
    <Dialog.Root open={open} onOpenChange={show}>
      <Dialog.Trigger className="text-left text-ink-2">
        <kbd>?</kbd> {strings.spine.keys}
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-30 bg-ink/30" />
        <Dialog.Content className="dialog">
          <Dialog.Title className="text-[20px] font-bold">{s.title}</Dialog.Title>
          <Dialog.Description className="mt-1 text-[14px] text-ink-2">{s.about}</Dialog.Description>
          <div className="mt-4 grid gap-5 sm:grid-cols-2">
            {s.groups.map((group) => (
              <section key={group.name}>
                <h3 className="rule-below text-[14px] font-bold">{group.name}</h3>
                <dl className="mt-2 grid grid-cols-[92px_1fr] gap-y-1.5 text-[14px]">
                  {group.keys.map(([key, what]) => (
                    <div key={key} className="contents">
                      <dt>
                        {key.split(' ').map((k) => (
                          <kbd key={k} className="mr-1">
                            {k}
                          </kbd>
                        ))}
                      </dt>
                      <dd>{what}</dd>
                    </div>
                  ))}
                </dl>
              </section>
            ))}
          </div>
          <div className="mt-5 flex flex-wrap items-center justify-between gap-3">
            <label className="flex min-h-6 items-center gap-2">
              <input
                type="checkbox"
                checked={on}
                onChange={(e) => {
                  setSingleKeys(e.target.checked);
                  setOn(e.target.checked);
                }}
              />
              {s.off}
            </label>
            <Dialog.Close className="button">{s.close}</Dialog.Close>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
