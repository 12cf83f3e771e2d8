import type { Message } from '@/core/model/message';
import type { Conflict } from './conflict';
import type { Outcome } from '@/core/model/finding';

/** One thing to do first, and what it settles. */
export interface First {
  kind: 'place' | 'picture' | 'single';
  /** What people call the template place; null for a picture. */
  place: string | null;
  rules: string[];
  /** Appearances it fixes, and the pages they are on. */
  places: number;
  pages: number;
  /** The picture that stands for it. */
  picture: { id: number; name: string | Message; thumb: string | null };
  appearanceId: number;
  /** Why it comes here in the order of work; null for a change in one place, which its pages speak for. */
  reason: Message | null;
}

/** The state of a collection in one screen. */
export interface Brief {
  pictures: number;
  described: number;
  decorative: number;
  missing: number;
  doubtful: number;
  /** Places whose words came from a draft: all, those of them that were edited, and those that the pages say by now; and all with words. */
  drafted: { texts: number; edited: number; live: number; of: number };
  /** The first of those that wait for somebody to choose, and how many there are. */
  conflicts: { first: Conflict[]; total: number };
  first: First[];
  /** How many of the pictures that are unsaid or doubtful the things to do first touch. */
  settles: number;
  rules: { rule: string; outcome: Outcome; pictures: number }[];
  /** Rules that find something in over a quarter of all places: one cause, and one decision. */
  widespread: Widespread[];
  /** Thumbnails that could be named by the page that they lead to: one decision. Null for less than a few. */
  thumbnails: Thumbnails | null;
  /** Findings, those that are set aside left out. */
  outcomes: Record<Outcome, number>;
  ignored: number;
  lengths: Lengths | null;
  /** By the first part of the address, those with most to do first; empty for the front page. */
  sections: ({ name: string } & Record<Outcome, number>)[];
  /** The last surveys that were finished, the oldest first. */
  history: { at: string; described: number; decorative: number; missing: number }[];
}

/** Thumbnails without a text, or with one that does not do. */
export interface Thumbnails {
  /** Appearances that would get another text, by their ids. */
  places: number[];
  pages: number;
  /** All thumbnails of the collection. */
  of: number;
}

/** A rule that finds something nearly everywhere. */
export interface Widespread {
  rule: string;
  outcome: Outcome;
  /** Appearances that it finds something at, and all there are. */
  places: number;
  of: number;
}

/** How long the different texts are, in graphemes. */
export interface Lengths {
  /** Texts in steps of ten, from 0; the last step holds everything longer. */
  steps: number[];
  /** Between which half of them lie. */
  quartiles: [low: number, high: number];
  over: number;
  limit: number;
}
