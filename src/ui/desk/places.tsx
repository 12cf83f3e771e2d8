'use client';

import Link from 'next/link';
import { useState } from 'react';
import type { DeskPicture } from '@/contract/desk';
import { Heard } from '../primitives/heard';
import { spotName } from '../primitives/place-name';
import { strings } from '../strings';
import type { Written } from './autosaver';

interface Props {
  data: DeskPicture;
  chosen: Written['places'];
  href(place: number): string;
  choose(places: Written['places']): void;
}

/** Places that are shown before the others are asked for. */
const SHOWN = 4;
/** So many are not worth a fold. */
const FEW = 5;

/** All places of the picture with what they say, and which of them the words are for. */
export function Places({ data, chosen, href, choose }: Props) {
  const s = strings.desk;
  const { places, placesTotal } = data;
  const [isOpen, setOpen] = useState(false);
  const isChosen = (id: number) => chosen === 'all' || chosen.has(id);
  const count = chosen === 'all' ? placesTotal : chosen.size;
  const listed = isOpen || places.length <= FEW ? places : places.slice(0, SHOWN);
  const toggle = (id: number) => {
    const next = new Set(chosen === 'all' ? places.map((p) => p.id) : chosen);
    if (!next.delete(id)) next.add(id);
    // Words that go nowhere are no words; the last place stays.
    if (next.size > 0) choose(next);
  };
  return (
    <section aria-labelledby="places" className="border-t border-hair px-4 py-2.5 text-[14px] sm:px-7">
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h2 id="places" className="text-[14px]">
          <b>{s.places}</b> <span className="text-ink-2">{s.placesOf(count, placesTotal)}</span>
        </h2>
        {placesTotal > 1 && (
          <span className="fixes">
            <button type="button" className="link" onClick={() => choose('all')}>
              {s.everywhere}
            </button>
            <button type="button" className="link" onClick={() => choose(new Set([places[0]!.id]))}>
              {s.hereOnly}
            </button>
          </span>
        )}
      </div>
      <ul
        className={`mt-1 grid gap-x-6 gap-y-1 sm:grid-cols-2 ${isOpen ? 'max-h-[340px] overflow-y-auto' : ''}`}
        tabIndex={isOpen && places.length > FEW ? 0 : undefined}
        aria-labelledby="places"
      >
        {listed.map((p, i) => (
          <li key={p.id} className="grid grid-cols-[24px_minmax(0,1fr)] items-start">
            <span className="flex min-h-6 items-center">
              <input
                type="checkbox"
                checked={isChosen(p.id)}
                onChange={() => toggle(p.id)}
                aria-label={`${s.places}: ${p.pageName}`}
              />
            </span>
            <span className="min-w-0">
              {i === 0 ? (
                <b className="font-semibold">{p.pageName}</b>
              ) : (
                <Link href={href(p.id)} prefetch={false} className="text-ink">
                  {p.pageName}
                </Link>
              )}
              <span className="text-[13px] text-ink-2">
                {' '}
                {p.reading.context.control?.text === '' && `${s.purposes.functional.toLowerCase()}, `}
                {p.reading.location.kind === 'script' ? s.byScript : spotName(p.page, p.reading)}
                {p.reading.layout.fold === 'below' && `, ${s.belowFold}`}
              </span>
              <span className="block truncate text-[15px] text-ink-2">
                {p.heard ? (
                  <Heard text={p.heard} lang={p.reading.context.lang ?? p.page.lang} />
                ) : (
                  <span className="font-heard italic">
                    {p.state === 'decorative' ? s.decorativeThere : s.nothingYet}
                  </span>
                )}
              </span>
            </span>
          </li>
        ))}
      </ul>
      {places.length > FEW && (
        <button type="button" className="link mt-1 text-[13px]" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
          {isOpen ? s.fewerPlaces : s.allPlaces(placesTotal)}
        </button>
      )}
      {isOpen && placesTotal > places.length && (
        <p className="mt-1 text-[13px] text-ink-2">{s.morePlaces(placesTotal - places.length)}</p>
      )}
    </section>
  );
}
