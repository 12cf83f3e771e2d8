import type { Message } from '@/core/model/message';

/** Two texts for one place, between which a person has to choose. Null is no alt text, `''` decorative. */
export interface Conflict {
  id: number;
  /** The first of the places where the same two texts wait, and how many there are: they are chosen at one stroke. */
  appearanceId: number;
  places: number;
  pictureId: number;
  /** File name of the picture, else the element. */
  picture: string | Message;
  thumb: string | null;
  /** Title of the page, else its path. */
  page: string;
  /** `edit`: two people wrote from the same state. `page`: the page was changed after its picture was worded. */
  kind: 'edit' | 'page';
  /** What the page said when it was found. */
  first: string | null;
  /** What stands now: on the page, or as somebody else saved it. */
  theirs: string | null;
  ours: string | null;
  lang: string | null;
  at: string;
}
