import type { Appearance } from '../model/appearance';

/** Gives each appearance of a page a place of its own: the second of a place gets the number 2, and so on. */
export function numberPlaces(appearances: readonly Appearance[]): void {
  for (const [i, place] of uniquePlaces(appearances).entries()) appearances[i]!.context.place = place;
}

/** The places of the appearances of a page, each with a number where an earlier one has the same. */
export function uniquePlaces(appearances: readonly Appearance[]): string[] {
  const counts = new Map<string, number>();
  return appearances.map(({ context: { place } }) => {
    const n = (counts.get(place) ?? 0) + 1;
    counts.set(place, n);
    return n === 1 ? place : `${place} (${n})`;
  });
}
