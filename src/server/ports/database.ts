import type { PgliteDatabase } from 'drizzle-orm/pglite';
import type * as schema from '../db/schema';

/** The tables, asked through Drizzle; both adapters speak PostgreSQL. */
export type Database = PgliteDatabase<typeof schema>;

/** What an open database does besides answering: `db/embedded-database.ts`, `db/server-database.ts`. */
export interface DatabasePort {
  db: Database;
  /**
   * Does something of which only one may be under way among all processes on the database, named by a text. Others wait
   * for their turn; what a process holds is free when that ends, however it ends.
   */
  exclusively<T>(name: string, work: () => Promise<T>): Promise<T>;
  close(): Promise<void>;
}
