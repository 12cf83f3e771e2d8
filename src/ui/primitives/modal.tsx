'use client';

import { Dialog } from 'radix-ui';
import type { FormEvent, ReactNode } from 'react';
import { strings } from '../strings';
import { DialogContent } from './dialog-content';

interface Props {
  title: string;
  /** One sentence that says what it is for; none where the title says it. */
  about?: string;
  wide?: boolean;
  /** What the button that ends it does, and whether it can be done. */
  submit: {
    label: string;
    can: boolean;
    /** It closes only once what it does has worked: whoever runs it closes it. */
    stays?: boolean;
    run(): void;
  };
  close(): void;
  children: ReactNode;
}

/** A dialog that asks for something and does one thing with it, or is left (ARIA Authoring Practices, dialog pattern). */
export function Modal({ title, about, wide = false, submit, close, children }: Props) {
  const onSubmit = (event: FormEvent) => {
    event.preventDefault();
    // React's events go through the portal to a form that the dialog was opened from.
    event.stopPropagation();
    if (!submit.can) return;
    if (!submit.stays) close();
    submit.run();
  };
  return (
    <Dialog.Root open onOpenChange={(open) => !open && close()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-30 bg-ink/30" />
        <DialogContent
          className={wide ? 'dialog wide' : 'dialog'}
          {...(about === undefined ? { 'aria-describedby': undefined } : {})}
        >
          <form onSubmit={onSubmit}>
            <Dialog.Title className="text-[20px] font-bold">{title}</Dialog.Title>
            {about !== undefined && (
              <Dialog.Description className="mt-1 text-[14.5px] text-ink-2">{about}</Dialog.Description>
            )}
            {children}
            <div className="mt-4 flex flex-wrap gap-3">
              <button type="submit" className="button" disabled={!submit.can}>
                {submit.label}
              </button>
              <Dialog.Close className="button quiet">{strings.galley.cancel}</Dialog.Close>
            </div>
          </form>
        </DialogContent>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
