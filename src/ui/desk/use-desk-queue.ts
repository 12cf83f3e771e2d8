'use client';

import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import type { GalleyView, Queue } from '@/contract/galley';
import { queries } from '../data/queries';
import { asQuery } from '../galley/address';
import { joinQueues, stepOf, storedQueue, storeQueue, type QueueStep } from './desk-queue';

/**
 * The pictures that are worked through, in order. A picture that has its words stays where it was, so that the way back
 * leads to it, and the next one is the same whether or not the save has arrived.
 *
 * @param initial as the server knew it when the page was opened
 */
export function useDeskQueue(collection: string, view: GalleyView, picture: number, initial: Queue): QueueStep {
  const client = useQueryClient();
  const query = String(asQuery(view));
  const [queue, setQueue] = useState(initial);
  useEffect(() => {
    const stored = storedQueue(collection, query);
    // eslint-disable-next-line react-hooks/set-state-in-effect -- only the browser knows what it stored
    if (stored?.ids.includes(picture)) setQueue(stored);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once, when the Desk is opened
  }, [collection, query]);
  useEffect(() => storeQueue(collection, query, queue), [collection, query, queue]);
  const step = stepOf(queue, picture);
  const { wants } = step;
  useEffect(() => {
    if (wants === null) return;
    let isCurrent = true;
    client.fetchQuery({ ...queries.queue(collection, view, wants), staleTime: 0 }).then(
      (more) => {
        if (isCurrent) setQueue((known) => joinQueues(known, more));
      },
      () => undefined,
    );
    return () => {
      isCurrent = false;
    };
  }, [client, collection, view, wants]);
  return step;
}
