'use client';

import { useQueries, type UseQueryResult } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import type { GalleyView, Line, Lines } from '@/contract/galley';
import { queries, WINDOW } from '../data/queries';

export interface ShownLines {
  total: number;
  /** By their position. */
  lines: ReadonlyMap<number, Line>;
  /** The view that they belong to has not answered yet; they are those of the view before. */
  isOld: boolean;
}

const NOTHING: ShownLines = { total: 0, lines: new Map(), isOld: true };

/**
 * The lines of a view around those that are in sight, fetched in windows. While a new view is on its way, the lines of the
 * one before stay.
 *
 * @param from first position that is wanted
 * @param to last one
 */
export function useLines(collection: string, view: GalleyView, from: number, to: number): ShownLines {
  const windows = useMemo(() => {
    const all: number[] = [];
    for (let w = Math.floor(from / WINDOW); w <= Math.floor(to / WINDOW); w++) all.push(w);
    return all;
  }, [from, to]);
  const shown = useQueries({
    queries: windows.map((w) => queries.lines(collection, view, w)),
    combine: combined,
  });
  const [last, setLast] = useState(NOTHING);
  const now = useMemo<ShownLines | null>(() => {
    if (shown.total === null) return null;
    const lines = new Map<number, Line>();
    shown.windows.forEach((found, i) => found?.lines.forEach((line, j) => lines.set(windows[i]! * WINDOW + j, line)));
    return { total: shown.total, lines, isOld: false };
  }, [shown, windows]);
  if (now && now !== last) setLast(now);
  return now ?? { ...last, isOld: true };
}

function combined(results: UseQueryResult<Lines>[]): { total: number | null; windows: (Lines | undefined)[] } {
  const answered = results.filter((r) => r.data);
  const latest = answered.sort((a, b) => b.dataUpdatedAt - a.dataUpdatedAt)[0];
  return { total: latest?.data?.total ?? null, windows: results.map((r) => r.data) };
}
