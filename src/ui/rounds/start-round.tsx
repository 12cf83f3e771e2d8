'use client';

import { useState } from 'react';
import { EVERYTHING } from '@/contract/galley';
import type { Target } from '@/contract/target';
import { strings } from '../strings';
import { RoundDialog } from './round-dialog';

/** Starts a round, over all pictures without alt text where nothing else is said. */
export function StartRound({
  collection,
  target = { kind: 'view', view: EVERYTHING, except: [] },
}: {
  collection: string;
  target?: Target;
}) {
  const [isAsking, setAsking] = useState(false);
  return (
    <>
      <button type="button" className="link min-h-[24px] text-[14px]" onClick={() => setAsking(true)}>
        {strings.rounds.start}
      </button>
      {isAsking && <RoundDialog collection={collection} target={target} close={() => setAsking(false)} />}
    </>
  );
}
