'use client';

import { useEffect } from 'react';

const FOCUSABLE =
  'a[href], button:not(:disabled), input:not(:disabled, [type=hidden]), select, textarea, [tabindex="0"]';

/** Whether an element can no longer have the focus: it is gone, switched off or out of sight. */
const isLost = (element: Element): boolean =>
  !element.isConnected || element.matches(':disabled') || element.getClientRects().length === 0;

/**
 * Where the focus goes when the element that had it is gone: what the nearest place around it names as its home
 * (`data-focus-home`, a selector), else the first control there; after that, the heading of the page.
 *
 * @param around elements around the lost one, the nearest first
 */
export function nextFocus(around: readonly Element[]): HTMLElement | null {
  for (const place of around) {
    if (!place.isConnected || place.matches('body, html')) continue;
    const named = place.getAttribute('data-focus-home');
    const home = place.querySelector<HTMLElement>(named ?? FOCUSABLE);
    if (home && !isLost(home)) return home;
    if (place.matches('main')) break;
  }
  return document.querySelector<HTMLElement>('main h1') ?? document.querySelector<HTMLElement>('main');
}

/**
 * Keeps the focus from falling to the body: when an act takes away the control that was used, or a new page comes, it
 * lands on the next sensible thing, so that nobody has to begin at the top of the page (WCAG 2.2, 2.4.3).
 */
export function FocusKeeper() {
  useEffect(() => {
    let around: Element[] = [];
    let frame = 0;
    const note = ({ target }: FocusEvent) => {
      around = [];
      for (let at = target as Element | null; at; at = at.parentElement) around.push(at);
    };
    const check = () => {
      const [last] = around;
      const active = document.activeElement;
      if (!last || (active && active !== document.body && !isLost(active)) || !isLost(last)) return;
      if (document.querySelector('[role=dialog], [role=alertdialog], [role=listbox]')) return;
      const next = nextFocus(around.slice(1));
      if (!next) return;
      if (!next.matches(FOCUSABLE)) next.tabIndex = -1;
      next.focus();
    };
    const observer = new MutationObserver(() => {
      cancelAnimationFrame(frame);
      frame = requestAnimationFrame(check);
    });
    document.addEventListener('focusin', note);
    observer.observe(document.body, { childList: true, subtree: true, attributeFilter: ['disabled', 'open', 'class'] });
    return () => {
      document.removeEventListener('focusin', note);
      observer.disconnect();
      cancelAnimationFrame(frame);
    };
  }, []);
  return null;
}
