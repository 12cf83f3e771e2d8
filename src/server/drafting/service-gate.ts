import { setTimeout as wait } from 'node:timers/promises';
import PQueue from 'p-queue';
import { isDatabaseShared } from '../db/database';
import { limits } from '../limits/limits';

/** What a service allows. */
export interface GateLimits {
  atOnce: number;
  perMinute: number;
}

/** Requests a minute from which several start in one second; below, one starts after the other, evenly spread. */
const FAST = 600;

/** Turns at a service that this process shares with others, by its id. */
async function sharedTurn(id: number, perMinute: number, signal: AbortSignal): Promise<void> {
  if (!(await isDatabaseShared())) return;
  for (;;) {
    const ms = await (await limits()).take(`service ${id}`, 60_000 / perMinute);
    if (ms === 0) return;
    await wait(ms, undefined, { signal });
  }
}

/**
 * Lets requests to one service through, of all rounds and of those who wait for a single draft: so many at once, so many a
 * minute, those of greater priority first, and none while the service asks to be left alone.
 */
export class ServiceGate {
  private readonly queue: PQueue;
  private heldUntil = 0;
  private timer: NodeJS.Timeout | null = null;
  /** Drafts of rounds that are under way, for which money is set aside. */
  reserved = 0;

  /** @param turn waited for by each request besides, such as for other processes */
  constructor(
    { atOnce, perMinute }: GateLimits,
    private readonly turn: (signal: AbortSignal) => Promise<void> = async () => undefined,
  ) {
    const isFast = perMinute >= FAST;
    this.queue = new PQueue({
      concurrency: atOnce,
      interval: isFast ? 1_000 : 60_000 / perMinute,
      intervalCap: isFast ? Math.floor(perMinute / 60) : 1,
    });
  }

  /** @throws what the task throws; the signal's reason when that ends it before its turn */
  async run<T>(task: () => Promise<T>, priority: number, signal: AbortSignal): Promise<T> {
    const inTurn = async () => {
      await this.turn(signal);
      return task();
    };
    return (await this.queue.add(inTurn, { priority, signal })) as T;
  }

  /** Lets no request begin for so many milliseconds. */
  hold(ms: number): void {
    const until = performance.now() + ms;
    if (until <= this.heldUntil) return;
    this.heldUntil = until;
    this.queue.pause();
    if (this.timer) clearTimeout(this.timer);
    this.timer = setTimeout(() => {
      this.timer = null;
      this.queue.start();
    }, ms);
    this.timer.unref();
  }

  /** Milliseconds that no request begins for; 0 where they do. */
  get heldMs(): number {
    return Math.max(0, this.heldUntil - performance.now());
  }
}

/** One for each service and process, across the bundles that Next makes of the server. */
const shared = globalThis as typeof globalThis & { dettoGates?: Map<number, ServiceGate> };

/** The gate of a service, with the limits that it has now. */
export function gateOf(service: GateLimits & { id: number }): ServiceGate {
  const gates = (shared.dettoGates ??= new Map());
  let gate = gates.get(service.id);
  if (!gate)
    gates.set(
      service.id,
      (gate = new ServiceGate(service, (signal) => sharedTurn(service.id, service.perMinute, signal))),
    );
  return gate;
}

/** The next request is let through by new limits. */
export function forgetGate(id: number): void {
  shared.dettoGates?.delete(id);
}
