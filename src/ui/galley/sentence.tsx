'use client';

import { useRouter } from 'next/navigation';
import { useEffect, useState } from 'react';
import type { Facets, GalleyView } from '@/contract/galley';
import { Pick } from '../primitives/pick';
import { asQuery } from './address';
import { strings } from '../strings';

const TYPING_MS = 250;

const STATES = ['all', 'todo', 'missing', 'doubtful', 'described', 'decorative', 'draft', 'conflict'] as const;

interface Props {
  collection: string;
  view: GalleyView;
  facets: Facets;
  rules: readonly { id: string; title: string }[];
  total: number;
}

/** The sentence that says what the Galley shows; its underlined parts are the choices. */
export function Sentence({ collection, view, facets, rules, total }: Props) {
  const s = strings.galley;
  const router = useRouter();
  const [q, setQ] = useState(view.q);
  const [asked, setAsked] = useState(view.q);
  // The browser's Back brings another search, which the field then shows.
  if (asked !== view.q) {
    setAsked(view.q);
    setQ(view.q);
  }
  const show = (changed: Partial<GalleyView>) =>
    // Each choice can be gone back from; the letters of a search are one.
    router[changed.q === undefined || view.q === '' ? 'push' : 'replace'](
      `/c/${collection}/galley?${asQuery({ ...view, ...changed })}`,
      { scroll: false },
    );

  useEffect(() => {
    if (q === view.q) return;
    const timer = setTimeout(() => show({ q }), TYPING_MS);
    return () => clearTimeout(timer);
    // Only typing sets the clock; a new view arrives with the words it was asked for.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [q]);

  const found = new Map(facets.rules.map((r) => [r.rule, r.pictures]));
  return (
    <header className="border-b border-hair px-4 pt-4 pb-3 sm:px-7">
      <h1 className="sr-only">{s.title}</h1>
      <div className="flex flex-wrap items-baseline gap-x-1.5 text-[21px] leading-normal">
        <span>{s.pictures}</span>
        <span className="whitespace-nowrap">
          <Pick
            label={s.state}
            value={view.state}
            options={STATES.filter((value) => value !== 'conflict' || facets.conflict > 0 || view.state === value).map(
              (value) => ({
                value,
                label: s.states[value],
                count: facets[value],
              }),
            )}
            onChange={(value) => show({ state: value as GalleyView['state'] })}
          />
          ,
        </span>
        <span>{s.with}</span>
        <span className="whitespace-nowrap">
          <Pick
            label={s.rule}
            value={view.rule}
            options={[
              { value: 'any', label: s.anyNote },
              ...rules
                .filter((r) => found.has(r.id) || r.id === view.rule)
                .map((r) => ({ value: r.id, label: `“${r.title}”`, count: found.get(r.id) ?? 0 })),
            ]}
            onChange={(rule) => show({ rule })}
          />
          ,
        </span>
        {(facets.kinds.length > 0 || view.kind !== 'any') && (
          <span className="whitespace-nowrap">
            <Pick
              label={s.kind}
              value={view.kind}
              options={[
                { value: 'any', label: s.anyKind },
                ...facets.kinds.map(({ kind, pictures }) => ({ value: kind, label: s.kinds[kind], count: pictures })),
              ]}
              onChange={(kind) => show({ kind: kind as GalleyView['kind'] })}
            />
            ,
          </span>
        )}
        <Pick
          label={s.sort}
          value={view.sort}
          options={(['first', 'reach', 'weight', 'length', 'alike', 'place'] as const).map((value) => ({
            value,
            label: s.sorts[value],
          }))}
          onChange={(value) => show({ sort: value as GalleyView['sort'] })}
        />
      </div>
      <div className="mt-1 flex flex-wrap items-baseline justify-between gap-x-6 gap-y-1 text-[14px] text-ink-2">
        <p role="status">
          {s.tally(total, facets.all, facets.appearances, strings.pages(facets.pages))}
          {view.similarGroup > 0 && (
            <>
              {' '}
              <button type="button" className="link" onClick={() => show({ similarGroup: 0 })}>
                {s.allSeries}
              </button>
            </>
          )}
        </p>
        <label className="flex items-baseline gap-1.5">
          <span>{s.mention}</span>
          <input
            type="search"
            value={q}
            onChange={(e) => setQ(e.target.value)}
            aria-label={s.search}
            placeholder={s.searchPlaceholder}
            className="field w-[200px]"
          />
        </label>
      </div>
    </header>
  );
}
