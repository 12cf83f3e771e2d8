import { MemoryLimits } from '../limits/memory-limits';
import type { LimitsPort } from '../ports/limits';

const MOST_DELAY_MS = 30_000;
const MOST_PAUSE_MS = 120_000;

/** Spaces out the requests to one host, of all surveys that go there, and waits when the host asks for it. */
export class HostGate {
  private readonly spacing = new Map<string, number>();

  /**
   * @param least milliseconds between two requests
   * @param limits where turns are taken
   */
  constructor(
    private readonly least: number,
    private readonly limits: LimitsPort = new MemoryLimits(),
  ) {}

  /** Seconds that a host wants between requests. */
  space(host: string, seconds: number | null): void {
    this.spacing.set(host, Math.min(MOST_DELAY_MS, Math.max(this.least, (seconds ?? 0) * 1000)));
  }

  /** No request to the host for so many milliseconds. */
  pause(host: string, ms: number): Promise<void> {
    return this.limits.hold(keyOf(host), Math.min(ms, MOST_PAUSE_MS));
  }

  /** Resolves when it is this request's turn. */
  async turn(host: string, signal?: AbortSignal): Promise<void> {
    for (;;) {
      const ms = await this.limits.take(keyOf(host), this.spacing.get(host) ?? this.least);
      if (ms === 0) return;
      await wait(ms, signal);
    }
  }
}

const keyOf = (host: string) => `host ${host}`;

function wait(ms: number, signal?: AbortSignal): Promise<void> {
  return new Promise((resolve, reject) => {
    const stop = () => {
      clearTimeout(timer);
      reject(signal!.reason as Error);
    };
    const timer = setTimeout(() => {
      signal?.removeEventListener('abort', stop);
      resolve();
    }, ms);
    if (signal?.aborted) stop();
    else signal?.addEventListener('abort', stop, { once: true });
  });
}

/** Milliseconds that `Retry-After` asks for: seconds, or a date (RFC 9110, 10.2.3); null when it is neither. */
export function retryAfter(value: string | undefined, now: number): number | null {
  if (!value) return null;
  if (/^\s*\d+\s*$/.test(value)) return Number(value) * 1000;
  const date = Date.parse(value);
  return Number.isNaN(date) ? null : Math.max(0, date - now);
}
