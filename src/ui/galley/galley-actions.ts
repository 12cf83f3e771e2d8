import type { Target } from '@/contract/target';
import type { Choose } from '../frame/keep';
import type { NoteActions } from '../notes/note-actions';

/** What the server does for the Galley. */
export interface GalleyActions {
  notes: NoteActions;
  choose: Choose;
  draft(collection: string, target: Target, act: string): Promise<{ drafted: number; of: number }>;
  answerDrafts(collection: string, target: Target, answer: 'accept' | 'reject', act: string): Promise<number>;
}
