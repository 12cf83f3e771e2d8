import { EVERYTHING, type GalleyView } from '@/contract/galley';

/** A view as the query of an address, which names only what differs from the view of everything. */
export const asQuery = (view: Partial<GalleyView>): URLSearchParams =>
  new URLSearchParams(
    Object.entries(view).flatMap(([key, value]) =>
      value === EVERYTHING[key as keyof GalleyView] ? [] : [[key, String(value)]],
    ),
  );

export const galleyHref = (collection: string, view: Partial<GalleyView> = {}): string => {
  const query = String(asQuery(view));
  return `/c/${collection}/galley${query && `?${query}`}`;
};

export const deskHref = (collection: string, picture: number, view: Partial<GalleyView>, place?: number): string => {
  const query = asQuery(view);
  if (place !== undefined) query.set('place', String(place));
  return `/c/${collection}/desk/${picture}${query.size > 0 ? `?${query}` : ''}`;
};

export const printHref = (collection: string, view: Partial<GalleyView>): string => {
  const query = String(asQuery(view));
  return `/c/${collection}/galley/print${query && `?${query}`}`;
};
