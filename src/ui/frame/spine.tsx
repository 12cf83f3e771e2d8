'use client';

import Link from 'next/link';
import { usePathname } from 'next/navigation';
import { strings } from '../strings';
import { KeysDialog } from './keys-dialog';

interface Props {
  /** The open collection; null on the shelf, where there are no places yet. */
  collection: {
    id: string;
    name: string;
    surveyed: string;
    counts: { galley: number; desk: number; delivery: number };
  } | null;
}

/** The spine of the book: the collection and its places, as words. */
export function Spine({ collection }: Props) {
  const s = strings.spine;
  const path = usePathname();
  const places = collection
    ? ([
        ['brief', s.brief, null],
        ['galley', s.galley, collection.counts.galley],
        ['desk', s.desk, collection.counts.desk],
        ['delivery', s.delivery, collection.counts.delivery],
        ['survey', s.survey, null],
        ['rules', s.rules, null],
        ['style', s.style, null],
      ] as const)
    : [];
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
          <nav aria-label={s.label}>
            <ul>
              {places.map(([place, name, count]) => {
                const href = `/c/${collection.id}/${place}`;
                const here = path.startsWith(href);
                return (
                  <li key={place}>
                    <Link href={href} aria-current={here ? 'page' : undefined} className="place">
                      <span>{name}</span>
                      {count !== null && <span className="count">{strings.n(count)}</span>}
                    </Link>
                  </li>
                );
              })}
            </ul>
          </nav>
        </>
      )}
      <div className="foot">
        {collection && (
          <Link href="/" className="text-ink-2 no-underline hover:underline">
            {s.all}
          </Link>
        )}
        <KeysDialog />
      </div>
    </header>
  );
}
