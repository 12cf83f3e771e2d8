import { jest } from '@jest/globals';
import type { AnchorHTMLAttributes } from 'react';

/** What components have asked of Next's router. */
export const router = { pushed: [] as string[], refreshed: 0 };

/** Puts plain links and a router that remembers in the place of Next's; call it before a component is imported. */
export function withoutNext(): void {
  jest.unstable_mockModule('next/link', () => ({
    default: ({
      prefetch: _,
      scroll: __,
      ...props
    }: AnchorHTMLAttributes<HTMLAnchorElement> & { prefetch?: boolean; scroll?: boolean }) => <a {...props} />,
  }));
  const own = { push: (to: string) => void router.pushed.push(to), refresh: () => void router.refreshed++ };
  jest.unstable_mockModule('next/navigation', () => ({ useRouter: () => own }));
}
