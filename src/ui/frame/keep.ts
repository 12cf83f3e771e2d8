import type { Target } from '@/contract/target';

/** Keeps words, silence (`''`) or nothing of one's own (null) at some places; gives back how many have it now. */
export type Keep = (asked: {
  collection: string;
  target: Target;
  text: string | null;
  act: string;
  by?: 'person' | 'drafter';
}) => Promise<number>;
