'use client';

import { useCallback, useEffect, useRef, useState } from 'react';
import type { GalleyView, Line, Lines } from '@/contract/galley';

const WINDOW = 100;

/** The lines of a view, fetched in windows as they are scrolled to. */
export function useLines(collection: string, view: GalleyView, first: Lines) {
  const [total, setTotal] = useState(first.total);
  const [lines, setLines] = useState<ReadonlyMap<number, Line>>(() => indexed(first, 0));
  const windows = useRef(new Set([0]));
  const query = new URLSearchParams({ ...view, limit: String(WINDOW) }).toString();

  const load = useCallback(
    async (window: number) => {
      const response = await fetch(`/api/collections/${collection}/lines?${query}&offset=${window * WINDOW}`);
      if (!response.ok) throw new Error(await response.text());
      const got = (await response.json()) as Lines;
      setTotal(got.total);
      setLines((known) => new Map([...known, ...indexed(got, window * WINDOW)]));
    },
    [collection, query],
  );

  /** Asks for what stands between two positions, where it is not there yet. */
  const need = useCallback(
    (from: number, to: number) => {
      for (let w = Math.floor(from / WINDOW); w <= Math.floor(to / WINDOW); w++) {
        if (windows.current.has(w)) continue;
        windows.current.add(w);
        load(w).catch(() => windows.current.delete(w));
      }
    },
    [load],
  );

  /** Draws what is on the screen anew, after an act. */
  const reload = useCallback(
    async (from: number, to: number) => {
      const around = [Math.floor(from / WINDOW), Math.floor(to / WINDOW)];
      windows.current = new Set(around);
      await Promise.all([...new Set(around)].map(load));
    },
    [load],
  );

  useEffect(() => {
    windows.current = new Set([0]);
    setTotal(first.total);
    setLines(indexed(first, 0));
  }, [first]);

  return { total, lines, need, reload };
}

function indexed({ lines }: Lines, offset: number): Map<number, Line> {
  return new Map(lines.map((line, i) => [offset + i, line]));
}
