/** What Detto does in the background for a collection, and how far it is. */
export interface JobProgress {
  kind:
    | 'survey'
    | 'audit'
    | 'analysis'
    | 'recognition'
    | 'conclusions'
    | 'recheck'
    | 'phrases'
    | 'bulk'
    | 'brief'
    | 'rounds'
    | 'preview'
    | 'delivery';
  state: 'waiting' | 'running' | 'stopping' | 'failed';
  /** From 0 to 1; null where nobody can say. */
  share: number | null;
  /** Why it could not be done; null otherwise. */
  error: string | null;
}
