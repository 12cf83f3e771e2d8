import type { DeskPlace } from '@/contract/desk';

/**
 * The places that are ticked to begin with: those where words for the shown place, the first one, serve as well. These
 * have its purpose, language and link target, and either say the same or fail, whatever they say; a place with another
 * good text keeps it.
 */
export function placesToWord(places: readonly DeskPlace[]): ReadonlySet<number> {
  const shown = places[0]!;
  const langOf = (p: DeskPlace) => p.reading.context.lang ?? p.page.lang;
  const hrefOf = (p: DeskPlace) => p.reading.context.control?.href ?? null;
  const isWanting = (p: DeskPlace) => p.state === 'missing' || p.findings.some((f) => f.outcome === 'failed');
  return new Set(
    places
      .filter((p) => p.purpose === shown.purpose && langOf(p) === langOf(shown) && hrefOf(p) === hrefOf(shown))
      .filter((p) => (p.state === shown.state && p.heard === shown.heard) || isWanting(p))
      .map((p) => p.id),
  );
}
