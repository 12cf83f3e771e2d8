'use client';

import { useEffect, useState, useSyncExternalStore } from 'react';
import type { GalleyView, Lines } from '@/contract/galley';
import { asQuery } from './address';
import { LineStore } from './line-store';

/** The lines of a view: the first window comes with the page, the others as they are scrolled to. */
export function useLines(collection: string, view: GalleyView, first: Lines) {
  const [store] = useState(
    () =>
      new LineStore(first, async (offset, limit) => {
        const query = asQuery(view);
        query.set('offset', String(offset));
        query.set('limit', String(limit));
        const response = await fetch(`/api/collections/${collection}/lines?${query}`);
        if (!response.ok) throw new Error(await response.text());
        return (await response.json()) as Lines;
      }),
  );
  useEffect(() => store.replace(first), [store, first]);
  const { total, lines } = useSyncExternalStore(store.subscribe, store.get, store.get);
  return { store, total, lines };
}
