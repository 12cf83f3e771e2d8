'use client';

import { AlertDialog, Dialog } from 'radix-ui';
import type { ComponentProps } from 'react';
import { useFocusReturn } from './use-focus-return';

/** The content of a dialog; when it closes, the focus goes back to where it was, whatever opened it. */
export function DialogContent(props: ComponentProps<typeof Dialog.Content>) {
  return <Dialog.Content {...props} onCloseAutoFocus={useFocusReturn()} />;
}

/** The same of a dialog that has to be answered. */
export function AlertDialogContent(props: ComponentProps<typeof AlertDialog.Content>) {
  return <AlertDialog.Content {...props} onCloseAutoFocus={useFocusReturn()} />;
}
