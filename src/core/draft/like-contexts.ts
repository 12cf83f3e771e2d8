import { wordsOf } from '../words/graphemes';

/** Where a picture stands, as far as it bears on its words. */
export interface PlaceContext {
  id: number;
  picture: number;
  purpose: string;
  language: string | null;
  /** Where its link leads; null for none. */
  target: string | null;
  /** Landmark; what stands in a header, a navigation or a footer is part of the frame of the site. */
  region: string | null;
  caption: string | null;
  heading: string | null;
  /** What stands next to it, before and after. */
  beside: string;
}

/** Share of the words of the shorter passage from which two speak of the same. */
const LIKE = 0.7;
const FRAME = new Set(['header', 'nav', 'footer']);

/** What has to be the same for one answer to serve two places. */
const keyOf = (p: PlaceContext): string =>
  JSON.stringify([
    p.picture,
    p.purpose,
    p.language,
    p.purpose === 'functional' ? p.target : null,
    FRAME.has(p.region ?? ''),
    p.caption,
  ]);

/**
 * Parts places so that one text can serve all of a part: the same picture for the same purpose in a like context.
 *
 * @returns parts in the order of their first place
 */
export function likeContexts(places: readonly PlaceContext[]): PlaceContext[][] {
  const parts: { words: Set<string>; members: PlaceContext[] }[] = [];
  const byKey = new Map<string, typeof parts>();
  for (const place of places) {
    const key = keyOf(place);
    const own = byKey.get(key) ?? [];
    byKey.set(key, own);
    const words = new Set(wordsOf(`${place.heading ?? ''} ${place.beside}`));
    // What a control does and what a frame shows does not depend on the text beside it.
    const isFree = place.purpose === 'functional' || FRAME.has(place.region ?? '');
    const part = own.find((p) => isFree || overlap(p.words, words) >= LIKE);
    if (part) {
      part.members.push(place);
      continue;
    }
    const added = { words, members: [place] };
    own.push(added);
    parts.push(added);
  }
  return parts.map((p) => p.members);
}

/** Share of the words of the shorter text that the other has too (overlap coefficient); 1 for two empty ones. */
function overlap(one: ReadonlySet<string>, other: ReadonlySet<string>): number {
  const [few, many] = one.size < other.size ? [one, other] : [other, one];
  if (many.size === 0) return 1;
  let both = 0;
  for (const word of few) if (many.has(word)) both++;
  return few.size === 0 ? 0 : both / few.size;
}
