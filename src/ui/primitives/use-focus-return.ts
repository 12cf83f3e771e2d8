import { useState } from 'react';
import { giveBackFocus, openerNow } from '../frame/focus';

/** For what is drawn while a dialog is open: notes what opened it, and gives what its `onCloseAutoFocus` does. */
export function useFocusReturn(): (event: Event) => void {
  const [opener] = useState(openerNow);
  return (event) => {
    event.preventDefault();
    giveBackFocus(opener);
  };
}
