import type { Target } from '@/contract/target';

/** What can be done with a finding beside fixing it. */
export interface NoteActions {
  /** @returns in how many places it was set aside */
  ignoreFinding(
    collection: string,
    target: Target,
    aside: { rule: string; reason: string; by: string; act: string },
  ): Promise<number>;
  bringBack(collection: string, place: number, rule: string, act: string): Promise<void>;
  acceptWord(collection: string, word: string, act: string): Promise<void>;
}
