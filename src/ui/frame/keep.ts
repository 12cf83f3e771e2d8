import type { Conflict } from '@/contract/conflict';
import type { Target } from '@/contract/target';

/** What became of words that were to be kept. */
export interface KeepAnswer {
  /** Places that have them now. */
  places: number;
  /** Those that somebody else has worded meanwhile; a person has to choose there. */
  conflicts: Conflict[];
  /** The state of the collection's words now. */
  revision: number;
}

/** Keeps words, silence (`''`) or nothing of one's own (null) at some places. */
export type Keep = (asked: {
  collection: string;
  target: Target;
  text: string | null;
  act: string;
  by?: 'person' | 'drafter';
  /** The revision that the text was written from. */
  since?: number;
}) => Promise<KeepAnswer>;

/** One of the two texts of a conflict, or one that was made of both. */
export type Choice = 'ours' | 'theirs' | { text: string };

/** Chooses between the two texts of a conflict; false when somebody has chosen already. */
export type Choose = (collection: string, conflict: number, choice: Choice, act: string) => Promise<boolean>;

/** At how many places somebody has to choose. */
export const clashingPlaces = ({ conflicts }: KeepAnswer): number => conflicts.reduce((sum, c) => sum + c.places, 0);
