/**
 * What an open database does besides answering. Adapters: `db/embedded-database.ts`, `db/server-database.ts`.
 *
 * @typeParam Db what statements go through
 */
export interface DatabasePort<Db> {
  db: Db;
  /** Whether other processes may have it open too, so that what they do comes in between statements of one transaction. */
  isShared: boolean;
  /**
   * Does something of which only one may be under way among all processes on the database, named by a text. Others wait
   * for their turn; what a process holds is free when that ends, however it ends.
   */
  exclusively<T>(name: string, work: () => Promise<T>): Promise<T>;
  close(): Promise<void>;
}
