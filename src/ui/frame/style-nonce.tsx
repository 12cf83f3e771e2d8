'use client';

import { useEffect } from 'react';

/** Where packages that put style sheets into the page look for the nonce of its policy. */
const page = globalThis as typeof globalThis & { __webpack_nonce__?: string };

/** The nonce under which the page's policy takes a style sheet. */
export const styleNonce = (): string | undefined => page.__webpack_nonce__;

/** Tells the page's nonce to components that need style sheets of their own: open lists and dialogs. */
export function StyleNonce({ nonce }: { nonce: string }) {
  useEffect(() => {
    page.__webpack_nonce__ = nonce;
  }, [nonce]);
  return null;
}
