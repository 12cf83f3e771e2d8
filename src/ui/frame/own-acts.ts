import { MOST_OWN_ACTS } from '@/contract/acts';

/**
 * The latest acts of this window. Lists and the Desk may still show what they fetched before one of them; words that are
 * saved from there name them, so that one's own words are never taken for somebody else's.
 */
let acts: readonly string[] = [];

export function noteOwnAct(act: string): void {
  if (!acts.includes(act)) acts = [...acts, act].slice(-MOST_OWN_ACTS);
}

export const ownActs = (): readonly string[] => acts;
