import type { MouseEvent } from 'react';

/**
 * For a control that waits for what it has started: it does nothing meanwhile and says so, and unlike one with `disabled`
 * it keeps the focus.
 */
export const whileBusy = (isBusy: boolean) =>
  isBusy
    ? {
        'aria-disabled': true as const,
        onClickCapture(event: MouseEvent) {
          event.preventDefault();
          event.stopPropagation();
        },
      }
    : {};
