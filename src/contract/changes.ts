/** What an open window is sent when something has changed in its collection. */
export interface ChangeEvent {
  /** Pictures that changed; null where it may be any of them. */
  pictures: readonly number[] | null;
  /** The state of the collection's words by now. */
  revision: number;
}
