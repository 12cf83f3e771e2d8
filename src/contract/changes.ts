/** What an open window is sent when something has changed in its collection. */
export interface ChangeEvent {
  /** Pictures that changed; null where it may be any of them. */
  pictures: readonly number[] | null;
  /** Rises with every change of words, purposes and settings: another number than before means that something changed. */
  state: number;
}
