'use client';

import { useRouter } from 'next/navigation';
import { useEffect } from 'react';

/** Milliseconds for which changes are gathered before a page is drawn again. */
const PAUSE_MS = 1_000;

/** Draws a page that the server makes again, whenever somebody has changed something. */
export function FollowChanges() {
  const router = useRouter();
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const changed = () => {
      timer ??= setTimeout(() => {
        timer = undefined;
        router.refresh();
      }, PAUSE_MS);
    };
    window.addEventListener('detto:changed', changed);
    return () => {
      window.removeEventListener('detto:changed', changed);
      clearTimeout(timer);
    };
  }, [router]);
  return null;
}
