'use client';

import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useEffect } from 'react';
import type { Brief } from '@/contract/brief';
import { useActs } from '../frame/acts';
import type { Choose } from '../frame/keep';
import { strings } from '../strings';
import { ConflictView } from './conflict-view';

interface Props {
  collection: string;
  conflicts: Brief['conflicts'];
  choose: Choose;
}

/** The texts between which somebody has to choose, to be worked through one after the other. */
export function ConflictList({ collection, conflicts: { first, total }, choose }: Props) {
  const s = strings.conflict;
  const router = useRouter();
  const { did, onTurn } = useActs();
  useEffect(() => onTurn(() => router.refresh()), [onTurn, router]);
  if (total === 0) return null;
  return (
    <section aria-labelledby="conflicts" className="mt-6" data-focus-home="button">
      <h2 id="conflicts" className="rule-below text-[16px] font-bold">
        {s.list(total)}
      </h2>
      <p className="mt-2 max-w-[72ch] text-[14px] text-ink-2">{s.listAbout}</p>
      <div>
        {first.map((c) => (
          <ConflictView
            key={c.id}
            conflict={c}
            level={3}
            choose={async (choice) => {
              const act = crypto.randomUUID();
              const chosen = await choose(collection, c.id, choice, act);
              const name = strings.pictureName(c.picture);
              did(chosen ? s.chosen(name) : s.late, chosen ? { what: strings.undo.choice(name), act } : null);
              router.refresh();
            }}
          />
        ))}
      </div>
      {total > first.reduce((shown, c) => shown + c.places, 0) && (
        <p className="mt-2 text-[14px]">
          <Link href={`/c/${collection}/galley?state=conflict`}>{s.all(total)}</Link>
        </p>
      )}
    </section>
  );
}
