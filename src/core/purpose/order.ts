import type { Region } from '../model/appearance';
import type { Outcome } from '../model/finding';
import type { Message } from '../model/message';

/** What the order of work is made from, of one picture. */
export interface WorkFacts {
  /** Pages it is on. */
  reach: number;
  /** Places with no alt text that are not decorative. */
  missing: number;
  /** Of those, ones where it is all that a link or button says. */
  missingFunctional: number;
  /** Of what rules found that words can settle. */
  worst: Outcome | null;
  /** Something is wrong with its file, which no words settle. */
  fileFails: boolean;
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
  /** A sentence without its full stop; null where nothing is to be done. */
  reason: Message | null;
}

/** Of a series, so many are worded with care; the others are adapted from them. */
export const BEST_OF_SERIES = 5;
const LARGE = 120_000;
const SMALL = 2_500;

/** Weights of our own: what a listener misses most comes first. */
const NEED = { functional: 100, failed: 80, missing: 65, cantTell: 20, file: 10, advice: 4 };
const REGION: Record<string, number> = { main: 1.2, header: 1.15, nav: 1.15, aside: 0.9, footer: 0.8 };
const ADAPTED = 0.2;

/** How early a picture comes in the order of work, and why. */
export function urgencyOf(facts: WorkFacts): Urgency {
  const { reach, missing, missingFunctional, worst, fileFails, region, area, similarCount, similarRank } = facts;
  const need =
    missingFunctional > 0
      ? NEED.functional
      : missing > 0
        ? Math.max(NEED.missing, worst === 'failed' ? NEED.failed : 0)
        : worst === null
          ? fileFails
            ? NEED.file
            : 0
          : Math.max(NEED[worst], fileFails ? NEED.file : 0);
  if (need === 0) return { urgency: 0, reason: null };
  const later = similarRank > BEST_OF_SERIES;
  const size = area === null ? 1 : area >= LARGE ? 1.15 : area <= SMALL ? 0.85 : 1;
  const urgency = need * Math.log2(1 + Math.max(1, reach)) * (REGION[region ?? ''] ?? 1) * size * (later ? ADAPTED : 1);
  const what =
    missingFunctional > 0
      ? 'urgency.functional'
      : missing > 0
        ? 'urgency.missing'
        : worst === 'failed'
          ? 'urgency.failed'
          : worst === 'cantTell'
            ? 'urgency.cantTell'
            : fileFails
              ? 'urgency.file'
              : 'urgency.advice';
  const parts: Message[] = [
    { id: what },
    { id: 'urgency.pages', values: { reach } },
    ...(region === 'main'
      ? [{ id: 'urgency.main' }]
      : region === 'header' || region === 'nav'
        ? [{ id: 'urgency.head' }]
        : []),
    ...(area !== null && area >= LARGE && region !== 'header' ? [{ id: 'urgency.large' }] : []),
    ...(similarCount > 1
      ? [{ id: later ? 'urgency.adapted' : 'urgency.best', values: { similar: similarCount } }]
      : []),
  ];
  return { urgency: Math.round(urgency * 100) / 100, reason: { id: 'urgency', values: { parts } } };
}
