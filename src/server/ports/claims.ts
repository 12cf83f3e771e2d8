/**
 * Which process does which job, so that none is done by two at a time, and what a process was doing when it ended is done
 * by another. Adapters: `jobs/local-claims.ts`, `jobs/shared-claims.ts`.
 */
export interface ClaimsPort {
  /** Jobs of a kind that may be fetched beyond those that can begin now; without it, any number. */
  mostHeld?: number;
  /**
   * Says that this process lives, and puts jobs back into the queue that nobody does any more.
   *
   * @returns false when this process was taken for dead, so that others do by now what it was doing
   */
  renew(): Promise<boolean>;
  /** Notes that this process has fetched jobs, by their ids. */
  claim(ids: readonly string[]): Promise<void>;
  /** @returns whether no other process is in that lane of a collection; this one is from now on */
  enterLane(collectionId: string, lane: string): Promise<boolean>;
  leaveLane(collectionId: string, lane: string): Promise<void>;
  /** Notes that jobs are over. */
  release(ids: readonly string[]): Promise<void>;
  /** Puts jobs of this process back into the queue, as far as no other has them by now. */
  giveBack(ids: readonly string[]): Promise<void>;
  /** This process does no more jobs. */
  end(): Promise<void>;
}
