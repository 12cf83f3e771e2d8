'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import Link from 'next/link';
import { useEffect, useState } from 'react';
import type { Round, Service } from '@/contract/drafting';
import { EVERYTHING } from '@/contract/galley';
import { queries, type DraftingSettings } from '../data/queries';
import { useActs } from '../frame/acts';
import { strings } from '../strings';
import { Figures } from './figures';
import { Instructions } from './instructions';
import { NewPictures } from './new-pictures';
import { RoundDialog } from './round-dialog';
import { RoundLine } from './round-line';
import { Services } from './services';

interface Props {
  collection: string;
  /** As they were when the page was drawn. */
  opened: { rounds: Round[]; services: Service[]; settings: DraftingSettings; drafts: number; now: string };
}

/** Milliseconds between two looks at rounds that run. */
const LOOK_MS = 1_200;

/** Rounds of drafts: those under way, the results of their drafts, and how drafting goes. */
export function RoundsView({ collection, opened }: Props) {
  const s = strings.rounds;
  const client = useQueryClient();
  const { onTurn } = useActs();
  const [isAsking, setAsking] = useState(false);
  const { data: rounds = opened.rounds } = useQuery({
    ...queries.rounds(collection),
    placeholderData: opened.rounds,
    refetchInterval: ({ state }) =>
      (state.data ?? opened.rounds).some((r) => r.state === 'running') ? LOOK_MS : false,
  });
  const { data: services = opened.services } = useQuery({ ...queries.services(), placeholderData: opened.services });
  // What a service has been paid is counted with it.
  const spent = rounds.reduce((sum, r) => sum + r.spent, 0);
  useEffect(() => void client.invalidateQueries({ queryKey: queries.services().queryKey }), [client, spent]);
  const { data: settings = opened.settings } = useQuery({
    ...queries.drafting(collection),
    placeholderData: opened.settings,
  });
  const { data: counts } = useQuery(queries.counts(collection));
  const drafts = counts?.drafts ?? opened.drafts;
  useEffect(
    () => onTurn(() => void client.invalidateQueries({ queryKey: [collection] })),
    [onTurn, client, collection],
  );
  return (
    <div className="max-w-[1080px]">
      <h1 className="text-[25px] leading-[1.42] tracking-[-0.005em]">{s.lead(drafts)}</h1>
      <p className="mt-1 max-w-[76ch] text-ink-2">{s.about}</p>
      <div className="mt-4 flex flex-wrap gap-3">
        {drafts > 0 && (
          <Link href={`/c/${collection}/rounds/read`} className="button no-underline">
            {s.read}
          </Link>
        )}
        <button type="button" className={drafts > 0 ? 'button quiet' : 'button'} onClick={() => setAsking(true)}>
          {s.start}
        </button>
      </div>
      <section className="mt-7" aria-labelledby="rounds">
        <h2 id="rounds" className="rule-below text-[16px] font-bold">
          {s.past}
        </h2>
        {rounds.length === 0 && <p className="mt-2 max-w-[72ch] text-ink-2">{s.none}</p>}
        <ul>
          {rounds.map((round) => (
            <RoundLine key={round.id} collection={collection} round={round} now={opened.now} />
          ))}
        </ul>
      </section>
      <Figures figures={settings.figures} />
      <Services services={services} />
      <Instructions
        key={settings.instructions.version}
        collection={collection}
        settings={settings}
        services={services}
      />
      <NewPictures collection={collection} plan={settings.plan} services={services} />
      {isAsking && (
        <RoundDialog
          collection={collection}
          target={{ kind: 'view', view: EVERYTHING, except: [] }}
          close={() => setAsking(false)}
        />
      )}
    </div>
  );
}
