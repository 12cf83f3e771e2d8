import type { Outcome } from '@/core/rules/rule';

/** One thing to do first, and what it settles. */
export interface First {
  kind: 'place' | 'picture' | 'single';
  /** What people call the template place; null for a picture. */
  place: string | null;
  rules: string[];
  /** Appearances it mends, and the pages they are on. */
  places: number;
  pages: number;
  /** The picture that stands for it. */
  picture: { id: number; name: string; thumb: string | null };
  appearanceId: number;
}

/** The state of a collection in one screen. */
export interface Brief {
  pictures: number;
  said: number;
  silent: number;
  unsaid: number;
  doubtful: number;
  first: First[];
  /** How many of the pictures that are unsaid or doubtful the things to do first touch. */
  settles: number;
  rules: { rule: string; outcome: Outcome; pictures: number }[];
}
