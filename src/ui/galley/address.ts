import type { GalleyView } from '@/contract/galley';

/** A view as the query of an address. */
export const asQuery = (view: GalleyView): URLSearchParams =>
  new URLSearchParams(Object.entries(view).map(([key, value]) => [key, String(value)]));
