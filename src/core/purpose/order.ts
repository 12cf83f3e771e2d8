import type { Region } from '../model/appearance';
import type { Outcome } from '../model/finding';

/** What the order of work is made from, of one picture. */
export interface WorkFacts {
  /** Pages it is on. */
  reach: number;
  /** Places with no alt text that are not decorative. */
  missing: number;
  /** Of those, ones where it is all that a link or button says. */
  missingFunctional: number;
  worst: Outcome | null;
  /** The region of its best place. */
  region: Region | null;
  /** Pixels of its greatest place, or of the file; null where unknown. */
  area: number | null;
  /** How many look alike, and its place among them, the largest first; 0 for one that stands alone. */
  similarCount: number;
  similarRank: number;
}

export interface Urgency {
  /** 0 where nothing is to be done. */
  urgency: number;
  /** In words, as a sentence without its full stop. */
  reason: string;
}

/** Of a series, so many are worded with care; the others are adapted from them. */
export const BEST_OF_SERIES = 5;
const LARGE = 120_000;
const SMALL = 2_500;

/** Weights of our own: what a listener misses most comes first. */
const NEED = { functional: 100, failed: 80, missing: 65, cantTell: 20, advice: 4 };
const REGION: Record<string, number> = { main: 1.2, header: 1.15, nav: 1.15, aside: 0.9, footer: 0.8 };
const ADAPTED = 0.2;

/** How early a picture comes in the order of work, and why. */
export function urgencyOf(facts: WorkFacts): Urgency {
  const { reach, missing, missingFunctional, worst, region, area, similarCount, similarRank } = facts;
  const need =
    missingFunctional > 0
      ? NEED.functional
      : missing > 0
        ? Math.max(NEED.missing, worst === 'failed' ? NEED.failed : 0)
        : worst === null
          ? 0
          : NEED[worst];
  if (need === 0) return { urgency: 0, reason: '' };
  const later = similarRank > BEST_OF_SERIES;
  const size = area === null ? 1 : area >= LARGE ? 1.15 : area <= SMALL ? 0.85 : 1;
  const urgency = need * Math.log2(1 + Math.max(1, reach)) * (REGION[region ?? ''] ?? 1) * size * (later ? ADAPTED : 1);
  const what =
    missingFunctional > 0
      ? 'a link or button has no name'
      : missing > 0
        ? 'no alt text'
        : worst === 'failed'
          ? 'its alt text fails'
          : worst === 'cantTell'
            ? 'its alt text needs a check'
            : 'its alt text can be improved';
  const reason = [
    what,
    reach > 1 ? `on ${reach} pages` : 'on one page',
    ...(region === 'main'
      ? ['in the main part']
      : region === 'header' || region === 'nav'
        ? ['in the head of the page']
        : []),
    ...(area !== null && area >= LARGE && region !== 'header' ? ['large'] : []),
    ...(similarCount > 1
      ? [
          later
            ? `one of ${similarCount} that look alike, to be adapted from their best`
            : `among the best of ${similarCount} that look alike`,
        ]
      : []),
  ].join(', ');
  return { urgency: Math.round(urgency * 100) / 100, reason: reason };
}
