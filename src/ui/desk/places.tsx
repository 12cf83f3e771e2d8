'use client';

import { positionOf } from '@/core/model/appearance';

import Link from 'next/link';
import type { DeskPicture } from '@/contract/desk';
import { Heard } from '../primitives/heard';
import { strings } from '../strings';
import type { Written } from './autosaver';

interface Props {
  data: DeskPicture;
  chosen: Written['places'];
  href(place: number): string;
  choose(places: Written['places']): void;
}

/** All places of the picture with what they say, and which of them the words are for. */
export function Places({ data, chosen, href, choose }: Props) {
  const s = strings.desk;
  const { places, placesTotal } = data;
  const isChosen = (id: number) => chosen === 'all' || chosen.has(id);
  const toggle = (id: number) => {
    const next = new Set(chosen === 'all' ? places.map((p) => p.id) : chosen);
    if (!next.delete(id)) next.add(id);
    // Words that go nowhere are no words; the last place stays.
    if (next.size > 0) choose(next);
  };
  return (
    <section aria-labelledby="places">
      <div className="mb-2 flex flex-wrap items-baseline justify-between gap-x-4">
        <h2 id="places" className="text-[13px] font-bold">
          {s.places}
        </h2>
        {placesTotal > 1 && (
          <span className="fixes text-[13px]">
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
        className="grid max-h-[340px] gap-1.5 overflow-y-auto"
        tabIndex={placesTotal > 5 ? 0 : undefined}
        aria-labelledby="places"
      >
        {places.map((p, i) => (
          <li key={p.id} className="grid grid-cols-[24px_1fr] items-start gap-1.5">
            <span className="flex min-h-6 items-center justify-center">
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
                {p.reading.location.kind === 'script' ? s.byScript : strings.delivery.line(positionOf(p.reading).line)}
                {p.reading.layout.fold === 'below' && `, ${s.belowFold}`}
              </span>
              <br />
              <span className="text-[15px] text-ink-2">
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
      {placesTotal > places.length && (
        <p className="mt-2 text-[13px] text-ink-2">{s.morePlaces(placesTotal - places.length)}</p>
      )}
    </section>
  );
}
