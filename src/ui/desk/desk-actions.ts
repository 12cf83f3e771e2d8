import type { Credit } from '@/core/picture/credit';
import type { Choose } from '../frame/keep';
import type { NoteActions } from '../notes/note-actions';

/** What the server does for the Desk; every act can be undone by its id. */
export interface DeskActions {
  choose: Choose;
  /** Sets the purpose at some places. */
  settle(collection: string, places: number[], purpose: string, act: string): Promise<number>;
  notes: NoteActions;
  record(collection: string, picture: number, credit: Credit, act: string): Promise<void>;
  /** @returns what somebody else has saved since `base`, which stands then */
  saveLong(collection: string, picture: number, text: string, act: string, base: string): Promise<string | null>;
}
