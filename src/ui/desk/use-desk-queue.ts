'use client';

import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { GalleyView, Queue } from '@/contract/galley';
import { queries } from '../data/queries';
import { asQuery } from '../galley/address';
import { joinQueues, stepOf, storedQueue, storeQueue, type QueueStep } from './desk-queue';

export interface DeskQueue {
  step: QueueStep;
  /** False until the browser has looked for the queue that was worked through before. */
  isSettled: boolean;
  /** The picture that comes so many after another one; null where the queue does not know. */
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
  const [found, setQueue] = useState<Queue | null>(null);
  const queue = found ?? initial;
  const latest = useRef(queue);
  useEffect(() => {
    latest.current = queue;
  }, [queue]);
  useEffect(() => {
    const stored = storedQueue(collection, query);
    // eslint-disable-next-line react-hooks/set-state-in-effect -- only the browser knows what it stored
    setQueue(stored?.ids.includes(picture) ? stored : initial);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once, when the Desk is opened
  }, [collection, query]);
  useEffect(() => {
    if (found) storeQueue(collection, query, found);
  }, [collection, query, found]);
  const step = stepOf(queue, picture);
  const { wants } = step;
  useEffect(() => {
    if (wants === null) return;
    let isCurrent = true;
    client.fetchQuery({ ...queries.queue(collection, view, wants), staleTime: 0 }).then(
      (more) => {
        if (isCurrent) setQueue((known) => joinQueues(known ?? initial, more));
      },
      () => undefined,
    );
    return () => {
      isCurrent = false;
    };
  }, [client, collection, view, wants, initial]);
  const beside = useCallback((from: number, by: number) => {
    const at = latest.current.ids.indexOf(from);
    return at < 0 ? null : (latest.current.ids[at + by] ?? null);
  }, []);
  return { step, isSettled: found !== null, beside };
}
