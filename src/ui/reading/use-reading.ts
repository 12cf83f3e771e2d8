'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { Decision, DraftItem, DraftPage, ReadingList, ReadingView } from '@/contract/drafting';
import { fetchJson, queries } from '../data/queries';
import { useActs } from '../frame/acts';
import { noteSave } from '../frame/unsaved';
import { whatIsWrong } from '../frame/what-is-wrong';
import { strings } from '../strings';

/** Drafts after the shown one that are fetched ahead, so that the next is there at once. */
const AHEAD = 4;

/** The drafts that wait, the one that is shown, and what is decided about them. */
export function useReading(
  collection: string,
  view: ReadingView,
  opened: { list: ReadingList; first: DraftPage | null },
) {
  const client = useQueryClient();
  const { did, remember, onTurn } = useActs();
  const { data: list = opened.list } = useQuery({
    ...queries.reading(collection, view),
    placeholderData: (before) => before ?? opened.list,
  });
  /** Decided here, and perhaps not yet at the server. */
  const [decided, setDecided] = useState<ReadonlySet<number>>(new Set());
  const items = list.items.filter((i) => !decided.has(i.id));
  const [shownId, setShownId] = useState(opened.first?.id ?? null);
  /** Where one reads, in the list as it was then. */
  const [place, setPlace] = useState<Place>({ id: 0, items: [] });
  const at = placeIn(items, shownId, place);
  const item: DraftItem | null = items[at] ?? null;
  if (item && (item.id !== place.id || !isSameOrder(items, place.items))) setPlace({ id: item.id, items });
  if (opened.first && !client.getQueryData(queries.draft(collection, opened.first.id).queryKey))
    client.setQueryData(queries.draft(collection, opened.first.id).queryKey, opened.first);
  const { data: draft } = useQuery({
    ...queries.draft(collection, item?.id ?? 0),
    enabled: item !== null,
    retry: false,
  });
  const ahead = items
    .slice(at + 1, at + 1 + AHEAD)
    .map((i) => i.id)
    .join(' ');
  useEffect(() => {
    for (const id of ahead.split(' ').filter(Boolean)) {
      void client.prefetchQuery({ ...queries.draft(collection, Number(id)), staleTime: 60_000 });
      // The picture too: it is the slowest part.
      void client
        .ensureQueryData(queries.draft(collection, Number(id)))
        .then(({ picture }) => void (new Image().src = picture.src))
        .catch(() => undefined);
    }
  }, [client, collection, ahead]);
  const refresh = useCallback(() => client.invalidateQueries({ queryKey: [collection] }), [client, collection]);
  useEffect(
    () =>
      onTurn(() => {
        // What was taken back waits again.
        setDecided(new Set());
        void refresh();
      }),
    [onTurn, refresh],
  );

  const show = (id: number) => setShownId(id);
  const latest = useRef<Promise<void>>(Promise.resolve());
  /** Shows the draft so many further on. */
  const step = (by: 1 | -1) => {
    const next = items[at + by];
    if (next) setShownId(next.id);
    return next !== undefined;
  };
  /** Decides about some drafts, shows the next one at once, and brings them back where that fails. */
  const decide = (of: readonly DraftItem[], decision: Decision, what: string) => {
    const ids = of.flatMap((i) => i.ids);
    const gone = new Set([...decided, ...of.map((i) => i.id)]);
    const rest = items.filter((i) => !gone.has(i.id));
    const next = items.slice(at + 1).find((i) => !gone.has(i.id)) ?? rest.at(-1) ?? null;
    setDecided(gone);
    setShownId(next?.id ?? null);
    const act = crypto.randomUUID();
    // One after the other, so that undo takes back what was decided last.
    const save = latest.current.then(() => send());
    latest.current = save;
    noteSave(save);

    async function send(): Promise<void> {
      try {
        await fetchJson(`/api/collections/${collection}/drafts`, {
          method: 'POST',
          body: JSON.stringify({ ids, decision, act }),
        });
        remember({ what, act, href: address(collection, view) });
      } catch (error) {
        setDecided((now) => new Set([...now].filter((id) => !of.some((i) => i.id === id))));
        setShownId(of[0]!.id);
        const why = (await whatIsWrong()) ?? (error instanceof Error && error.message ? error.message : strings.failed);
        did(strings.reading.refused(what, why));
      } finally {
        void refresh();
      }
    }
  };
  return { list, items, at, item, draft: draft?.id === item?.id ? (draft ?? null) : null, show, step, decide, refresh };
}

/** The draft that was shown, and the list that it stood in. */
interface Place {
  id: number;
  items: readonly DraftItem[];
}

const isSameOrder = (one: readonly DraftItem[], other: readonly DraftItem[]): boolean =>
  one.length === other.length && one.every((i, n) => i.id === other[n]!.id);

/**
 * Where one reads on. Of a draft that went, a new one of the same picture takes the place, since it was asked for once
 * more; else the first of those that came after it and are left, else the last.
 */
function placeIn(items: readonly DraftItem[], id: number | null, was: Place): number {
  const indexOf = (wanted: number | null) => items.findIndex((i) => i.id === wanted);
  const same = indexOf(id) >= 0 ? indexOf(id) : indexOf(was.id);
  if (same >= 0 || items.length === 0) return Math.max(0, same);
  const at = was.items.findIndex((i) => i.id === was.id);
  const known = new Set(was.items.map((i) => i.id));
  const again = items.findIndex((i) => i.picture === was.items[at]?.picture && !known.has(i.id));
  if (again >= 0) return again;
  const left = new Map(items.map((i, n) => [i.id, n]));
  const next = was.items.slice(at + 1).find((i) => left.has(i.id));
  return next ? left.get(next.id)! : items.length - 1;
}

/** Where some drafts are read. */
export const address = (collection: string, { round, order }: ReadingView): string => {
  const query = new URLSearchParams({
    ...(round === null ? {} : { round: String(round) }),
    ...(order === 'surest' ? {} : { order }),
  }).toString();
  return `/c/${collection}/rounds/read${query === '' ? '' : `?${query}`}`;
};
