import { infiniteQueryOptions, queryOptions } from '@tanstack/react-query';
import type { Conflict } from '@/contract/conflict';
import type { Delivery, DeliveryPreview } from '@/contract/delivery';
import type { DeskPicture } from '@/contract/desk';
import type {
  DraftingFigures,
  DraftingPlan,
  DraftPage,
  ReadingList,
  ReadingView,
  Round,
  Service,
} from '@/contract/drafting';
import type { Counts, FacetChoice, FacetName, GalleyView, Lines, Queue, SavedView } from '@/contract/galley';
import { asQuery } from '../galley/address';

/** The server answered with an error; `status` is 0 where it did not answer at all. */
export class FetchError extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}

/** @throws FetchError with what the server says is wrong */
export async function fetchJson<T>(address: string, init?: RequestInit): Promise<T> {
  const response = await fetch(address, init).catch((error: Error) => {
    if (error.name === 'AbortError') throw error;
    throw new FetchError(0, error.message);
  });
  const answer = (await response.json().catch(() => null)) as (T & { error?: string }) | null;
  if (!response.ok || answer === null) throw new FetchError(response.status, answer?.error ?? response.statusText);
  return answer;
}

const of = (collection: string) => `/api/collections/${collection}`;

/** What the browser keeps of a collection; every key begins with the collection, then what it is. */
export const queries = {
  counts: (collection: string) =>
    queryOptions({
      queryKey: [collection, 'counts'],
      queryFn: ({ signal }) => fetchJson<Counts>(`${of(collection)}/counts`, { signal }),
    }),

  /** @param window which hundred lines of the view */
  lines: (collection: string, view: GalleyView, window: number) =>
    queryOptions({
      queryKey: [collection, 'lines', String(asQuery(view)), window],
      queryFn: ({ signal }) => {
        const query = asQuery(view);
        query.set('offset', String(window * WINDOW));
        query.set('limit', String(WINDOW));
        return fetchJson<Lines>(`${of(collection)}/lines?${query}`, { signal });
      },
    }),

  facet: (collection: string, view: GalleyView, facet: FacetName, find: string) =>
    queryOptions({
      queryKey: [collection, 'facets', String(asQuery({ ...view, sort: 'reach', group: 'picture' })), facet, find],
      queryFn: ({ signal }) => {
        const query = asQuery(view);
        if (find) query.set('find', find);
        return fetchJson<FacetChoice[]>(`${of(collection)}/facets/${facet}?${query}`, { signal });
      },
    }),

  /** @param place the appearance that is shown first; null for the one that needs words most */
  desk: (collection: string, picture: number, place: number | null) =>
    queryOptions({
      queryKey: [collection, 'desk', picture, place],
      queryFn: async ({ signal, client, queryKey }) => {
        // The place that was shown stays, also when another needs words more by now.
        const shown = place ?? client.getQueryData<DeskPicture>(queryKey)?.places[0]?.id ?? null;
        return fetchJson<DeskPicture>(`${of(collection)}/desk/${picture}${shown === null ? '' : `?place=${shown}`}`, {
          signal,
        });
      },
    }),

  queue: (collection: string, view: GalleyView, picture: number) =>
    queryOptions({
      queryKey: [collection, 'queue', String(asQuery(view)), picture],
      queryFn: ({ signal }) => {
        const query = asQuery(view);
        query.set('picture', String(picture));
        return fetchJson<Queue>(`${of(collection)}/queue?${query}`, { signal });
      },
    }),

  /** What a delivery would do, in parts. */
  deliveryPreview: (collection: string) =>
    infiniteQueryOptions({
      queryKey: [collection, 'delivery'],
      queryFn: ({ signal, pageParam }) =>
        fetchJson<DeliveryPreview>(`${of(collection)}/delivery${pageParam === null ? '' : `?after=${pageParam}`}`, {
          signal,
        }),
      initialPageParam: null as number | null,
      getNextPageParam: (last) => last.next,
    }),

  deliveries: (collection: string) =>
    queryOptions({
      queryKey: [collection, 'deliveries'],
      queryFn: ({ signal }) => fetchJson<Delivery[]>(`${of(collection)}/deliveries`, { signal }),
    }),

  conflicts: (collection: string) =>
    queryOptions({
      queryKey: [collection, 'conflicts'],
      queryFn: ({ signal }) =>
        fetchJson<{ total: number; conflicts: Conflict[] }>(`${of(collection)}/conflicts`, { signal }),
    }),

  views: (collection: string) =>
    queryOptions({
      queryKey: [collection, 'views'],
      queryFn: ({ signal }) => fetchJson<SavedView[]>(`${of(collection)}/views`, { signal }),
    }),

  rounds: (collection: string) =>
    queryOptions({
      queryKey: [collection, 'rounds'],
      queryFn: ({ signal }) => fetchJson<Round[]>(`${of(collection)}/rounds`, { signal }),
    }),

  /** The drafting services; they belong to no collection. */
  services: () =>
    queryOptions({
      queryKey: ['drafting-services'],
      queryFn: ({ signal }) => fetchJson<Service[]>('/api/drafting-services', { signal }),
    }),

  drafting: (collection: string) =>
    queryOptions({
      queryKey: [collection, 'drafting'],
      queryFn: ({ signal }) => fetchJson<DraftingSettings>(`${of(collection)}/drafting`, { signal }),
    }),

  reading: (collection: string, { round, order }: ReadingView) =>
    queryOptions({
      queryKey: [collection, 'reading', round, order],
      queryFn: ({ signal }) => {
        const query = new URLSearchParams({ order, ...(round === null ? {} : { round: String(round) }) });
        return fetchJson<ReadingList>(`${of(collection)}/drafts?${query}`, { signal });
      },
    }),

  draft: (collection: string, id: number) =>
    queryOptions({
      queryKey: [collection, 'draft', id],
      queryFn: ({ signal }) => fetchJson<DraftPage>(`${of(collection)}/drafts/${id}`, { signal }),
    }),
};

/** How drafting goes for a collection, and the results of its drafts. */
export interface DraftingSettings {
  instructions: { version: number; instructions: string };
  usual: string;
  history: { version: number; instructions: string; at: string }[];
  figures: DraftingFigures[];
  plan: DraftingPlan;
}

/** Lines that are fetched at a time. */
export const WINDOW = 100;
