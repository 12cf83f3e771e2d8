'use client';

import { useEffect } from 'react';
import { focusOn, followFocus, isDialogOpen, isLost, isOfLayer, latestFocus, nextFocus } from './focus';

/**
 * Keeps the focus from falling to the body: when an act takes away the control that was used, or a new page comes, it
 * lands on the next sensible thing, so that nobody has to begin at the top of the page (WCAG 2.2, 2.4.3).
 */
export function FocusKeeper() {
  useEffect(() => {
    let frame = 0;
    const forget = followFocus();
    const check = () => {
      const [had, ...around] = latestFocus();
      const active = document.activeElement;
      if (!had || (active && active !== document.body && !isLost(active)) || !isLost(had)) return;
      if (isOfLayer(around) || isDialogOpen() || document.querySelector('[role=listbox]')) return;
      focusOn(nextFocus(around));
    };
    const observer = new MutationObserver(() => {
      cancelAnimationFrame(frame);
      frame = requestAnimationFrame(check);
    });
    observer.observe(document.body, { childList: true, subtree: true, attributeFilter: ['disabled', 'open', 'class'] });
    return () => {
      forget();
      observer.disconnect();
      cancelAnimationFrame(frame);
    };
  }, []);
  return null;
}
