/** Between the database's worker thread and the proxy in the main thread. */
export interface DatabaseOptions {
  dataDir: string;
  /** The folder of a database that a new one begins with a copy of; null to make one from nothing. */
  template: string | null;
}

export type DatabaseRequest = { id: number } & (
  | { op: 'query'; tx?: number; sql: string; params?: unknown[]; rowMode?: 'array' | 'object'; plain: boolean }
  | { op: 'exec'; tx?: number; sql: string }
  | { op: 'begin' }
  | { op: 'commit' | 'rollback'; tx: number }
  | { op: 'close' }
);

export interface DatabaseError {
  message: string;
  code?: string;
  detail?: string;
  constraint?: string;
}

export type DatabaseAnswer =
  | { ready: true }
  /** The database has ended and cannot go on in this thread. */
  | { ended: string }
  | { id: number; result?: unknown; error?: DatabaseError };
