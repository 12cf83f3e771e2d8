'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { GalleyView, Queue } from '@/contract/galley';
import { queries } from '../data/queries';
import { asQuery } from '../galley/address';
import { newIn, stepOf, storedQueue, storeQueue, type Pile, type QueueStep } from './desk-queue';

export interface DeskQueue {
  step: QueueStep;
  /** False until the browser has looked for the pile that was worked through before. */
  isSettled: boolean;
  /** Pictures of the view that are not in the pile: how many came since it was begun, or, where it is a part of the view, null at its end. */
  more: { count: number | null; add(): void } | null;
  /** The picture that comes so many after another one; null where the pile ends. */
  beside(picture: number, by: number): number | null;
}

/**
 * The pictures that are worked through, in order. A picture that has its words stays where it was, so that the way back
 * leads to it, and the next one is the same whether or not the save has arrived.
 *
 * @param initial as the server knew it when the page was opened
 */
export function useDeskQueue(collection: string, view: GalleyView, picture: number, initial: Queue): DeskQueue {
  const client = useQueryClient();
  const query = String(asQuery(view));
  const [opened] = useState<Pile>({ ...initial, from: picture });
  const [found, setPile] = useState<Pile | null>(null);
  const pile = found ?? opened;
  const [last, setLast] = useState(picture);
  if (last !== picture && pile.ids.includes(picture)) setLast(picture);
  const latest = useRef({ pile, last });
  useEffect(() => {
    latest.current = { pile, last };
  }, [pile, last]);
  useEffect(() => {
    const stored = storedQueue(collection, query);
    // eslint-disable-next-line react-hooks/set-state-in-effect -- only the browser knows what it stored
    setPile(stored?.ids.includes(picture) ? stored : opened);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once, when the Desk is opened
  }, [collection, query]);
  useEffect(() => {
    if (found) storeQueue(collection, query, found);
  }, [collection, query, found]);

  const step = stepOf(pile, picture, last);
  // Of a view that is larger than a pile, what came meanwhile cannot be told from what was left out.
  const asked = pile.isWhole ? pile.from : (pile.ids.at(-1) ?? pile.from);
  const isAsked = found !== null && (pile.isWhole || step.next === null);
  const { data: now } = useQuery({ ...queries.queue(collection, view, asked), enabled: isAsked });
  const fresh = now && isAsked ? newIn(pile, now) : [];
  const add = () => {
    setPile({ ...pile, ids: [...pile.ids, ...fresh], isWhole: now?.isWhole ?? pile.isWhole });
    void client.invalidateQueries({ queryKey: queries.queue(collection, view, asked).queryKey });
  };

  const beside = useCallback((from: number, by: number) => {
    const { ids } = latest.current.pile;
    const at = ids.indexOf(from);
    if (at >= 0) return ids[at + by] ?? null;
    const left = ids.indexOf(latest.current.last);
    return ids[by > 0 ? left + by : left + by + 1] ?? null;
  }, []);
  return {
    step,
    isSettled: found !== null,
    more: fresh.length === 0 ? null : { count: pile.isWhole ? fresh.length : null, add },
    beside,
  };
}
