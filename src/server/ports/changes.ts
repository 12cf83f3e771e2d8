/** What somebody's act, or a job, has changed in a collection. */
export interface Change {
  collectionId: string;
  /** Pictures whose words, drafts, purposes or findings changed; null where it may be any of them. */
  pictures: readonly number[] | null;
}

/**
 * Carries changes to the other processes on the same data. Where there are none, nothing is carried. Adapter:
 * `db/change-notices.ts`.
 */
export interface ChangesPort {
  send(change: Change): void;
}

/** Where changes of other processes arrive. */
export interface ChangeReceiver {
  receive(change: Change): void;
  /** Changes may have been missed, of any collection. */
  missed(): void;
}
