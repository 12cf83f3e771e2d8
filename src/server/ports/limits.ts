/**
 * Turns at something that bears only so many requests, such as a host or a service, over all surveys and rounds. Adapters:
 * `limits/memory-limits.ts`, `limits/shared-limits.ts`.
 */
export interface LimitsPort {
  /**
   * Takes the next turn if it is free.
   *
   * @param spacingMs until the turn after it
   * @returns 0 when it was taken; otherwise the milliseconds until it may be free
   */
  take(key: string, spacingMs: number): Promise<number>;
  /** Gives no turn for so many milliseconds; a shorter time does not end a longer one. */
  hold(key: string, ms: number): Promise<void>;
}
