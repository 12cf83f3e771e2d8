'use client';

import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useState } from 'react';
import type { BulkPreview, BulkState, BulkWork } from '@/contract/bulk';
import type { Target } from '@/contract/target';
import { fetchJson } from '../data/queries';
import { useActs } from '../frame/acts';
import { whatIsWrong } from '../frame/what-is-wrong';
import { strings } from '../strings';

/** Milliseconds between two looks at how far it is. */
const POLL_MS = 400;

/** Milliseconds after a change before the preview is asked for. */
const PAUSE_MS = 250;

const post = <T>(collection: string, body: object, signal?: AbortSignal): Promise<T> =>
  fetchJson<T>(`/api/collections/${collection}/bulk`, {
    method: 'POST',
    body: JSON.stringify(body),
    ...(signal ? { signal } : {}),
  });

/**
 * What some work would do; null until the server has said it.
 *
 * @param asked the work as JSON; null for nothing
 */
export function usePreview(collection: string, target: Target, asked: string | null): BulkPreview | null {
  const [answer, setAnswer] = useState<{ asked: string; preview: BulkPreview } | null>(null);
  const where = JSON.stringify(target);
  useEffect(() => {
    if (asked === null) return;
    const stop = new AbortController();
    const timer = setTimeout(() => {
      const body = { target: JSON.parse(where) as Target, work: JSON.parse(asked) as BulkWork };
      post<BulkPreview>(collection, body, stop.signal).then(
        (preview) => setAnswer({ asked, preview }),
        () => undefined,
      );
    }, PAUSE_MS);
    return () => {
      clearTimeout(timer);
      stop.abort();
    };
  }, [collection, where, asked]);
  return answer?.asked === asked ? answer.preview : null;
}

/** Does acts on many places, says how far they are and what was done, and offers to undo it. */
export function useBulk(collection: string) {
  const client = useQueryClient();
  const { did, remember } = useActs();
  /** From 0 to 1; null while nothing is done. */
  const [share, setShare] = useState<number | null>(null);
  /** Begins an act by a request, and says how far it is until it is done. */
  const follow = useCallback(
    async (
      { what, done }: { what: string; done(places: number): string },
      begin: (act: string) => Promise<BulkState>,
    ) => {
      const act = crypto.randomUUID();
      setShare(0);
      try {
        let state = await begin(act);
        // It goes on without this window, so it can be undone from now on.
        if (state.state === 'running') remember({ what, act });
        while (state.state === 'running') {
          setShare(state.total === 0 ? 1 : state.done / state.total);
          await new Promise((resolve) => setTimeout(resolve, POLL_MS));
          state = await fetchJson<BulkState>(`/api/collections/${collection}/bulk/${act}`);
        }
        const message = done(state.places);
        did(state.state === 'failed' ? strings.bulk.failed(message) : message, state.places > 0 ? { what, act } : null);
      } catch (error) {
        did((await whatIsWrong()) ?? (error instanceof Error && error.message ? error.message : strings.failed));
      } finally {
        setShare(null);
        void client.invalidateQueries({ queryKey: [collection] });
      }
    },
    [client, collection, did, remember],
  );
  const perform = useCallback(
    (target: Target, work: BulkWork) =>
      follow(
        {
          what: strings.bulk.what[work.kind],
          done: (places) => strings.bulk.done[work.kind](strings.places(places)),
        },
        (act) => post<BulkState>(collection, { target, work, act }),
      ),
    [collection, follow],
  );
  return { perform, follow, share };
}
