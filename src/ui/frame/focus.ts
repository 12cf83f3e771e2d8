/** What can have the focus by Tab. */
export const FOCUSABLE =
  'a[href], button:not(:disabled), input:not(:disabled, [type=hidden]), select, textarea, [tabindex="0"]';
/** Lists that open beside a control and close again: what opens from them was opened from that control. */
const LIST = '.pick-list';
const DIALOG = '[role=dialog]:not(.pick-list), [role=alertdialog]';

/** An element with those around it, the nearest first, so that its place is known when it is gone. */
export type FocusPlace = readonly Element[];

/** Whether an element can no longer have the focus: it is gone, switched off or out of sight. */
export const isLost = (element: Element): boolean =>
  !element.isConnected || element.matches(':disabled') || element.getClientRects().length === 0;

/** Whether something was in a dialog or a list, which gives the focus back by itself when it closes. */
export const isOfLayer = (around: FocusPlace): boolean => around.some((e) => e.matches(`${LIST}, ${DIALOG}`));

/** Whether a dialog is open, which keeps the focus. */
export const isDialogOpen = (): boolean => document.querySelector(DIALOG) !== null;

function placeOf(element: Element): FocusPlace {
  const around: Element[] = [];
  for (let at: Element | null = element; at; at = at.parentElement) around.push(at);
  return around;
}

let last: FocusPlace = [];
let latest: FocusPlace = [];

/** Notes where the focus goes, until what it gives back is called. */
export function followFocus(): () => void {
  const note = (target: Element) => {
    latest = placeOf(target);
    if (!target.closest(LIST)) last = latest;
  };
  const come = ({ target }: FocusEvent) => note(target as Element);
  // Who was quicker than the page has put it somewhere already.
  if (document.activeElement && document.activeElement !== document.body) note(document.activeElement);
  document.addEventListener('focusin', come);
  return () => document.removeEventListener('focusin', come);
}

/** Where the focus was last. */
export const latestFocus = (): FocusPlace => latest;

/** Where the focus is, or was before a list opened beside a control. */
export function openerNow(): FocusPlace {
  const active = document.activeElement;
  return !active || active === document.body || active.closest(LIST) ? last : placeOf(active);
}

/**
 * Where the focus goes when the element that had it is gone: what the nearest place around it names as its home
 * (`data-focus-home`, a selector), else the first control there; after that, the heading of the page.
 *
 * @param around elements around the lost one, the nearest first
 */
export function nextFocus(around: FocusPlace): HTMLElement | null {
  for (const place of around) {
    if (!place.isConnected || place.matches('body, html')) continue;
    const named = place.getAttribute('data-focus-home');
    const home = place.querySelector<HTMLElement>(named ?? FOCUSABLE);
    if (home && !isLost(home)) return home;
    if (place.matches('main')) break;
  }
  return document.querySelector<HTMLElement>('main h1') ?? document.querySelector<HTMLElement>('main');
}

/** Gives the focus to an element, also to one that Tab passes over. */
export function focusOn(element: HTMLElement | null): void {
  if (!element) return;
  if (!element.matches(FOCUSABLE) && !element.hasAttribute('tabindex')) element.tabIndex = -1;
  element.focus();
}

/**
 * Gives the focus back to what opened a dialog, or where that is gone, to the row or the place that it was about (ARIA
 * Authoring Practices, dialog pattern; WCAG 2.2, 2.4.3).
 */
export function giveBackFocus(opener: FocusPlace): void {
  const [element, ...around] = opener;
  if (element instanceof HTMLElement && !isLost(element)) element.focus();
  else focusOn(nextFocus(around));
}
