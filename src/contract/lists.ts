/** A text that a list would change. */
export interface ListChange {
  /** In the file. */
  row: number;
  picture: string;
  page: string;
  /** What is heard now, and what would be; `''` is decorative, null no alt text. */
  before: string | null;
  after: string;
  /** The text that the list was made with, where it is another by now; the change is made only if it is asked for. */
  madeWith: string | null;
}

/** Why a row cannot be matched. */
export type UnknownRow = 'no-key' | 'not-found' | 'several' | 'names-control';

/** What a list would change, before it does. */
export interface ListPreview {
  /** The first of them; those where both sides changed come first. */
  changes: ListChange[];
  /** Without those where both sides changed. */
  total: number;
  conflicts: number;
  same: number;
  unknown: { row: number; why: UnknownRow }[];
  unknownTotal: number;
}
