import type { Message } from '@/core/model/message';

/**
 * Why a drafter gave no draft. `key`, `balance`, `budget` and `refused` hold for every picture, so a round waits for a person; `busy` and
 * `service` may pass; the others are about one picture.
 */
export type DraftingErrorCode =
  'key' | 'balance' | 'budget' | 'refused' | 'busy' | 'service' | 'timeout' | 'unreadable' | 'picture' | 'request';

/** A drafter could not answer; `reason` says why, for people. */
export class DraftingError extends Error {
  constructor(
    readonly code: DraftingErrorCode,
    readonly reason: Message,
    /** Milliseconds that the service asks to be left alone; null where it says nothing. */
    readonly retryAfterMs: number | null = null,
  ) {
    super(reason.id);
    this.name = 'DraftingError';
  }

  /** Every other picture would fail as this one did. */
  get concernsAll(): boolean {
    return ['key', 'balance', 'budget', 'refused'].includes(this.code);
  }

  /** Another attempt may succeed. */
  get mayPass(): boolean {
    return this.code === 'busy' || this.code === 'service' || this.code === 'timeout';
  }
}
