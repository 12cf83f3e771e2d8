'use client';

import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { queries } from '../data/queries';
import { strings } from '../strings';

/** Milliseconds after which what was never seen under way is over. */
const UNSEEN_MS = 4000;

interface Props {
  collection: string;
  /** The first words, until it is known how many documents there are. */
  begun: string;
  /** Called once nothing is prepared any more, where something was. */
  over?(): void;
}

/** How far the pages are compared with what was surveyed, and written; one may look elsewhere meanwhile. */
export function DeliveryProgressLine({ collection, begun, over }: Props) {
  const { data } = useQuery(queries.deliveryProgress(collection));
  const progress = data?.progress ?? null;
  const wasSeen = useRef(false);
  useEffect(() => {
    if (progress) wasSeen.current = true;
    else if (data && wasSeen.current) over?.();
    if (!over || wasSeen.current) return;
    // What is prepared sooner than one looks is never seen.
    const timer = setTimeout(over, UNSEEN_MS);
    return () => clearTimeout(timer);
  }, [data, progress, over]);
  return (
    <div className="mt-3 max-w-[480px]">
      <p role="status" className="text-[15px]">
        {begun}
      </p>
      {progress && (
        <>
          <p className="text-[14px] text-ink-2">{strings.delivery.prepared(progress.done, progress.total)}</p>
          <progress className="mt-1 block w-full" max={progress.total} value={progress.done} aria-label={begun} />
        </>
      )}
    </div>
  );
}
