'use client';

import Link from 'next/link';
import { usePathname } from 'next/navigation';
import { useEffect } from 'react';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import type { Counts } from '@/contract/galley';
import { queries } from '../data/queries';
import { dropQueues } from '../desk/desk-queue';
import { KeysDialog } from '../keys/keys-dialog';
import { strings } from '../strings';

interface Props {
  /** The open collection; null on the shelf, where there are no places yet. */
  collection: {
    id: string;
    name: string;
    surveyed: string;
    counts: Counts;
  } | null;
  /** Somebody has signed in here, and can sign out. */
  isSignedIn: boolean;
}

/** The spine of the book: the collection and its places, as words. */
export function Spine({ collection, isSignedIn }: Props) {
  const s = strings.spine;
  return (
    <header className="spine">
      <Link href="/" className="word">
        {strings.product}
      </Link>
      {collection && (
        <>
          <p className="pr-3 text-[13px] leading-snug text-ink-2">
            <b className="block text-[15px] break-words text-ink">{collection.name}</b>
            {collection.surveyed}
          </p>
          <PlaceList id={collection.id} counts={collection.counts} />
        </>
      )}
      <div className="foot">
        {collection && (
          <Link href="/" className="text-ink-2 no-underline hover:underline">
            {s.all}
          </Link>
        )}
        <KeysDialog />
        {isSignedIn && (
          <button type="button" className="link text-left" onClick={() => void signOut()}>
            {s.signOut}
          </button>
        )}
      </div>
    </header>
  );
}

async function signOut(): Promise<void> {
  await fetch('/api/session', { method: 'DELETE' });
  window.location.assign('/sign-in');
}

/** The places of a collection, with what is to be done there, kept current. */
function PlaceList({ id, counts: opened }: { id: string; counts: Counts }) {
  const s = strings.spine;
  const path = usePathname();
  const client = useQueryClient();
  const { data: counts = opened } = useQuery({ ...queries.counts(id), placeholderData: opened });
  // What the server counts with a page is newer than what is kept here.
  useEffect(() => void client.setQueryData(queries.counts(id).queryKey, opened), [client, id, opened]);
  const places = [
    ['brief', s.brief, null],
    ['galley', s.galley, counts.pictures],
    ['desk', s.desk, counts.todo],
    ['rounds', s.rounds, counts.drafts > 0 ? counts.drafts : null],
    ['delivery', s.delivery, counts.delivery],
    ['survey', s.survey, null],
    ['rules', s.rules, null],
    ['style', s.style, null],
  ] as const;
  return (
    <nav aria-label={s.label}>
      <ul>
        {places.map(([place, name, count]) => {
          const href = `/c/${id}/${place}`;
          const here = path.startsWith(href);
          return (
            <li key={place}>
              <Link
                href={href}
                aria-current={here ? 'page' : undefined}
                className="place"
                // Who comes to the Desk from here begins with what is first now.
                onClick={place === 'desk' ? () => dropQueues(id) : undefined}
              >
                <span>{name}</span>
                {count !== null && <span className="count">{strings.n(count)}</span>}
              </Link>
            </li>
          );
        })}
      </ul>
    </nav>
  );
}
