'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { usePathname, useRouter, useSearchParams } from 'next/navigation';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { DeskPicture } from '@/contract/desk';
import type { GalleyView, Queue } from '@/contract/galley';
import { queries } from '../data/queries';
import { deskHref, galleyHref } from '../galley/address';
import { isEditable, useCommands } from '../keys/use-commands';
import { strings } from '../strings';
import { arriveTo, typeAhead } from './arrival';
import { Desk } from './desk';
import type { DeskActions } from './desk-actions';
import { useDeskQueue } from './use-desk-queue';

interface Props {
  collection: string;
  /** Of the collection, for the title of the window. */
  name: string;
  view: GalleyView;
  /** What the page was opened with. */
  opened: { picture: number; place: number | null; data: DeskPicture; queue: Queue };
  actions: DeskActions;
}

/** Pictures that are fetched ahead. */
const AHEAD = 2;

/**
 * The Desk, from picture to picture: it knows the address, the queue and what comes next, which it fetches ahead, so that
 * nobody waits for the server between two pictures.
 */
export function DeskRoom({ collection, name, view, opened, actions }: Props) {
  const router = useRouter();
  const client = useQueryClient();
  const path = usePathname();
  const asked = useSearchParams().get('place');
  const picture = pictureIn(path) ?? opened.picture;
  const place = asked === null ? null : Number(asked) || null;
  const isOpened = picture === opened.picture && place === opened.place;
  const [first] = useState(opened);
  useEffect(() => {
    // What the server has just read is newer than what is left of an earlier visit.
    client.setQueryData(queries.desk(collection, first.picture, first.place).queryKey, first.data);
  }, [client, collection, first]);
  const { data, error } = useQuery({
    ...queries.desk(collection, picture, place),
    ...(isOpened ? { placeholderData: opened.data } : {}),
  });
  const { step, isSettled, more, beside } = useDeskQueue(collection, view, picture, first.queue);

  useEffect(() => {
    if (data) document.title = [strings.pictureName(data.name), strings.desk.title, name, strings.product].join(' · ');
  }, [data, name]);

  const hrefOf = useCallback((id: number, at?: number) => deskHref(collection, id, view, at), [collection, view]);
  // The router writes an address again once it has drawn it, over a newer one; until it has caught up, this is the newest.
  const bound = useRef<number | null>(null);
  useEffect(() => {
    if (bound.current === picture) bound.current = null;
  }, [picture]);
  useEffect(() => {
    const turnBack = () => {
      bound.current = null;
    };
    window.addEventListener('popstate', turnBack);
    return () => window.removeEventListener('popstate', turnBack);
  }, []);
  const show = useCallback(
    (id: number, how: 'write' | 'look') => {
      arriveTo(how);
      bound.current = id;
      window.history.pushState(null, '', hrefOf(id));
      window.scrollTo(0, 0);
    },
    [hrefOf],
  );
  const steps = useMemo(
    () => ({
      /** From where the last key led: keys that are faster than the drawing each move one picture. */
      by: (count: 1 | -1, how: 'write' | 'look'): boolean => {
        const id = beside(bound.current ?? pictureIn(window.location.pathname) ?? 0, count);
        if (id !== null) show(id, how);
        return id !== null;
      },
      /** Past the last one, back to the list. */
      leave: () => router.push(galleyHref(collection, view)),
    }),
    [beside, show, router, collection, view],
  );

  const { ahead } = step;
  const wanted = [...ahead.slice(0, AHEAD), ...(step.previous === null ? [] : [step.previous])].join();
  useEffect(() => {
    for (const id of wanted.split(',').filter(Boolean).map(Number))
      void client.prefetchQuery(queries.desk(collection, id, null)).then(() => {
        const known = client.getQueryData(queries.desk(collection, id, null).queryKey);
        if (known?.picture.type && !known.picture.broken) new Image().src = `/found/${collection}/${id}`;
      });
  }, [client, collection, wanted]);

  // While a picture is on its way, keys go on all the same.
  useCommands(
    data
      ? {}
      : {
          'desk.next': () => void steps.by(1, 'write'),
          'desk.previous': () => void steps.by(-1, 'write'),
          'desk.save-and-next': () => void steps.by(1, 'write'),
        },
  );

  const isWaiting = !data;
  useEffect(() => {
    if (!isWaiting) return;
    // Nor is what is typed meanwhile lost: it is for the picture that comes.
    const press = (event: KeyboardEvent) => {
      if (event.key.length > 1 || event.ctrlKey || event.metaKey || event.altKey || isEditable(event.target)) return;
      event.preventDefault();
      typeAhead(event.key);
    };
    document.addEventListener('keydown', press);
    return () => document.removeEventListener('keydown', press);
  }, [isWaiting]);

  if (!data)
    return (
      <div className="sheet">
        <p role="status">{error ? strings.desk.gone : strings.galley.loading}</p>
        {error && (
          <p className="mt-3">
            <button
              type="button"
              className="link"
              onClick={() => {
                if (!steps.by(1, 'write')) steps.leave();
              }}
            >
              {strings.desk.next}
            </button>
          </p>
        )}
      </div>
    );
  return (
    <Desk
      key={`${picture} ${place ?? ''}`}
      collection={collection}
      picture={picture}
      view={view}
      data={data}
      step={step}
      more={more}
      isSettled={isSettled}
      steps={steps}
      href={hrefOf}
      actions={actions}
    />
  );
}

/** The picture that an address of the Desk shows. */
function pictureIn(path: string): number | null {
  const id = /\/desk\/(\d+)/.exec(path)?.[1];
  return id === undefined ? null : Number(id);
}
