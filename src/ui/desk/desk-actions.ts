import type { Placement } from '@/core/model/texts';
import type { Credit } from '@/core/model/credit';
import type { Choose } from '../frame/keep';
import type { NoteActions } from '../notes/note-actions';

/** What the server does for the Desk; every act can be undone by its id. */
export interface DeskActions {
  choose: Choose;
  /** Sets the purpose at some places. */
  settle(collection: string, places: number[], purpose: string, act: string): Promise<number>;
  notes: NoteActions;
  record(collection: string, picture: number, credit: Credit, act: string): Promise<void>;
  /** Chooses where the long description stands. */
  placeLong(collection: string, picture: number, placement: Placement, act: string): Promise<void>;
  /** Puts the credit line below the picture at some places, or leaves it off. */
  showCredit(collection: string, places: number[], isShown: boolean, act: string): Promise<void>;
}
