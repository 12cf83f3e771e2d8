'use client';

import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { EVERYTHING, FACETS, type Counts, type FacetName, type GalleyView } from '@/contract/galley';
import { queries } from '../data/queries';
import { Choice } from '../primitives/choice';
import { strings } from '../strings';
import { FacetChoice, type RuleTitle } from './facet-choice';
import { Views } from './views';

const TYPING_MS = 250;

/** Facets that the sentence always has; the others join it when they limit something. */
const ALWAYS: readonly FacetName[] = ['state', 'rule'];
const SORTS = ['first', 'reach', 'weight', 'length', 'alike', 'place'] as const;
const GROUPS = ['picture', 'page', 'alike', 'place'] as const;

interface Props {
  collection: string;
  view: GalleyView;
  rules: readonly RuleTitle[];
  total: number;
  /** As the server counted when the page was opened. */
  counts: Counts;
  /** Changes the view; `replace` where it is one more letter of the same change. */
  show(changed: Partial<GalleyView>, how?: 'push' | 'replace'): void;
  /** More that can be done with all of the view. */
  children?: ReactNode;
}

/** The sentence that says what the Galley shows; its underlined parts are the choices. */
export function Sentence({ collection, view, rules, total, counts: opened, show, children }: Props) {
  const s = strings.galley;
  const { data: counts = opened } = useQuery({ ...queries.counts(collection), placeholderData: opened });
  const [q, setQ] = useState(view.q);
  const [asked, setAsked] = useState(view.q);
  // The browser's Back brings another search, which the field then shows.
  if (asked !== view.q) {
    setAsked(view.q);
    setQ(view.q);
  }
  useEffect(() => {
    if (q === view.q) return;
    // The letters of a search are one step back.
    const timer = setTimeout(() => show({ q }, view.q === '' ? 'push' : 'replace'), TYPING_MS);
    return () => clearTimeout(timer);
    // Only typing sets the clock; a new view arrives with the words it was asked for.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [q]);

  /** Filters that were added, until a view is opened that has none of them: also those that limit nothing yet. */
  const [added, setAdded] = useState<readonly FacetName[]>([]);
  const latest = useRef<FacetName | null>(null);
  const sentence = useRef<HTMLDivElement>(null);
  const limiting = FACETS.filter((f) => !ALWAYS.includes(f) && (view[f] !== EVERYTHING[f] || added.includes(f)));
  const others = FACETS.filter((f) => !ALWAYS.includes(f) && !limiting.includes(f));
  const facet = (name: FacetName) => (
    <FacetChoice collection={collection} view={view} facet={name} rules={rules} onChange={show} />
  );
  return (
    <header className="border-b border-hair px-4 pt-4 pb-3 sm:px-7">
      <h1 className="sr-only">{s.title}</h1>
      <div ref={sentence} className="sentence">
        <span>{s.pictures}</span>
        <span>{facet('state')},</span>
        <span>{s.with}</span>
        <span>{facet('rule')},</span>
        {limiting.map((name) => (
          <span key={name} data-facet={name}>
            {s.clauses[name]} {facet(name)},
          </span>
        ))}
        <span>
          <Choice
            label={s.sort}
            value={view.sort}
            options={SORTS.map((value) => ({ value, label: s.sorts[value] }))}
            onChange={(sort) => show({ sort: sort as GalleyView['sort'] })}
          >
            {s.sorts[view.sort]}
          </Choice>
        </span>
        {others.length > 0 && (
          <Choice
            label={s.moreFacets}
            value=""
            className="pick quiet"
            options={others.map((value) => ({ value, label: s.facets[value] }))}
            onChange={(name) => {
              latest.current = name as FacetName;
              setAdded([...added, name as FacetName]);
            }}
            next={() => {
              const to = sentence.current?.querySelector<HTMLElement>(`[data-facet="${latest.current}"] button`);
              latest.current = null;
              return to ?? null;
            }}
          >
            {s.add}
          </Choice>
        )}
      </div>
      <div className="mt-1.5 flex flex-wrap items-baseline gap-x-5 gap-y-1 text-[14px] text-ink-2">
        <p role="status">
          {(view.group === 'page' || view.group === 'place' ? s.tallyPlaces : s.tally)(
            total,
            counts.pictures,
            counts.appearances,
            strings.pages(counts.pages),
          )}
          {view.similarGroup > 0 && (
            <>
              {' '}
              <button type="button" className="link" onClick={() => show({ similarGroup: 0 })}>
                {s.allSeries}
              </button>
            </>
          )}
        </p>
        <Views collection={collection} view={view} show={show} />
        <span>
          {s.grouped}{' '}
          <Choice
            label={s.grouped}
            value={view.group}
            options={GROUPS.map((value) => ({ value, label: s.groups[value] }))}
            onChange={(group) => show({ group: group as GalleyView['group'] })}
          >
            {s.groups[view.group]}
          </Choice>
        </span>
        <label className="flex items-baseline gap-1.5">
          <span>{s.mention}</span>
          <input
            type="search"
            value={q}
            onChange={(e) => setQ(e.target.value)}
            aria-label={s.search}
            placeholder={s.searchPlaceholder}
            className="field w-[170px]"
          />
        </label>
        {children}
      </div>
    </header>
  );
}
