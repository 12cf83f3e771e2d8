'use client';

import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { RANGES, type FacetChoice as Found, type FacetName, type GalleyView } from '@/contract/galley';
import { OUTCOMES } from '@/core/model/finding';
import { queries } from '../data/queries';
import { Choice, type Option } from '../primitives/choice';
import { strings } from '../strings';

export interface RuleTitle {
  id: string;
  title: string;
  /** The gravest outcome that it gives. */
  outcome: (typeof OUTCOMES)[number];
}

interface Props {
  collection: string;
  view: GalleyView;
  facet: FacetName;
  rules: readonly RuleTitle[];
  onChange(view: Partial<GalleyView>): void;
}

const STATES = ['all', 'todo', 'missing', 'doubtful', 'described', 'decorative', 'draft', 'conflict'] as const;
const none = (facet: FacetName): string => (facet === 'state' ? 'all' : facet === 'page' ? '0' : 'any');

/** One facet of the view as a choice in the sentence; what each choice would show is counted when the list opens. */
export function FacetChoice({ collection, view, facet, rules, onChange }: Props) {
  const s = strings.galley;
  const [open, setOpen] = useState(false);
  const [find, setFind] = useState('');
  const { data } = useQuery({
    ...queries.facet(collection, view, facet, facet === 'page' ? find : ''),
    // The title of a page that the view is limited to is among the choices.
    enabled: open || (facet === 'page' && view.page > 0),
    placeholderData: (before) => before,
  });
  const value = String(view[facet]);
  return (
    <Choice
      label={s.facets[facet]}
      value={value}
      options={data ? optionsOf(facet, value, data, rules) : null}
      onOpen={setOpen}
      {...(facet === 'page' ? { onFind: setFind } : {})}
      onChange={(chosen) => onChange({ [facet]: facet === 'page' ? Number(chosen) : chosen })}
    >
      {nameOf(facet, value, rules, data)}
    </Choice>
  );
}

/** What a choice of a facet is called in the sentence. */
export function nameOf(
  facet: FacetName,
  value: string,
  rules: readonly RuleTitle[],
  found: readonly Found[] = [],
): string {
  const s = strings.galley;
  if (value === none(facet)) return s.anyOf[facet];
  switch (facet) {
    case 'state':
      return s.states[value as keyof typeof s.states];
    case 'rule':
      return `“${rules.find((r) => r.id === value)?.title ?? value}”`;
    case 'kind':
      return s.kinds[value as keyof typeof s.kinds];
    case 'purpose':
      return strings.desk.purposes[value as keyof typeof strings.desk.purposes].toLowerCase();
    case 'section':
      return value === '' ? s.topSection : value;
    case 'page':
      return found.find((f) => f.value === value)?.label ?? s.thatPage;
    case 'language':
      return strings.languageName(value);
    case 'format':
      return value.toUpperCase();
    case 'host':
      return value;
    case 'weight':
    case 'shown':
    case 'uses':
      return (s.ranges[facet] as Record<string, string>)[value] ?? value;
    case 'findings':
      return s.howMany[value as keyof typeof s.howMany];
    case 'writer':
      return s.writers[value as keyof typeof s.writers];
    case 'since':
      return s.since[value as keyof typeof s.since];
  }
}

function optionsOf(facet: FacetName, value: string, found: readonly Found[], rules: readonly RuleTitle[]): Option[] {
  const s = strings.galley;
  const counts = new Map(found.map((f) => [f.value, f.pictures]));
  const option = (v: string, group?: string): Option => ({
    value: v,
    label: nameOf(facet, v, rules, found),
    count: counts.get(v) ?? 0,
    group,
  });
  const any: Option = { value: none(facet), label: s.anyOf[facet] };
  switch (facet) {
    case 'state':
      return STATES.filter((v) => v === 'all' || v === value || v !== 'conflict' || (counts.get(v) ?? 0) > 0).map(
        (v) => (v === 'all' ? any : option(v)),
      );
    case 'rule':
      // By outcome, each with what is found most first.
      return [
        any,
        ...OUTCOMES.flatMap((outcome) =>
          rules
            .filter((r) => r.outcome === outcome && (counts.has(r.id) || r.id === value))
            .sort((a, b) => (counts.get(b.id) ?? 0) - (counts.get(a.id) ?? 0))
            .map((r) => option(r.id, strings.outcomes[outcome])),
        ),
      ];
    case 'weight':
    case 'shown':
    case 'uses':
      return [any, ...Object.keys(RANGES[facet]).map((v) => option(v))];
    default: {
      const all = found.map((f) => f.value);
      const shown = value === any.value || all.includes(value) ? all : [value, ...all];
      return [any, ...shown.map((v) => option(v))];
    }
  }
}
