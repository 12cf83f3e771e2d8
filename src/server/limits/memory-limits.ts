import type { LimitsPort } from '../ports/limits';

/** Where one process asks. */
export class MemoryLimits implements LimitsPort {
  private readonly free = new Map<string, number>();

  /** @param clock milliseconds, rising */
  constructor(private readonly clock: () => number = () => performance.now()) {}

  async take(key: string, spacingMs: number): Promise<number> {
    const now = this.clock();
    const at = this.free.get(key) ?? 0;
    if (at > now) return at - now;
    if (spacingMs > 0) this.free.set(key, now + spacingMs);
    else this.free.delete(key);
    return 0;
  }

  async hold(key: string, ms: number): Promise<void> {
    this.free.set(key, Math.max(this.free.get(key) ?? 0, this.clock() + ms));
  }
}
