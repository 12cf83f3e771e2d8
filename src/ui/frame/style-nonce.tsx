'use client';

/** Where packages that put style sheets into the page look for the nonce of its policy. */
const page = globalThis as typeof globalThis & { __webpack_nonce__?: string };

// As soon as the code is there: who opens a list before all of the page has woken up gets it styled as well.
if (typeof document !== 'undefined')
  page.__webpack_nonce__ ??= document.querySelector<HTMLScriptElement>('script[nonce]')?.nonce;

/** The nonce under which the page's policy takes a style sheet. */
export const styleNonce = (): string | undefined => page.__webpack_nonce__;

/** Brings the page's nonce to components that need style sheets of their own: open lists and dialogs. */
export function StyleNonce() {
  return null;
}
