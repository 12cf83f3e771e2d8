import { createHash } from 'node:crypto';
import type { Message } from '@/core/model/message';
import type { Cause } from '@/contract/survey';
import type { Skipped } from './source';

/** An address that waits to be read. */
export interface Waiting {
  address: string;
  depth: number;
  /** The page that led to it first. */
  foundOn: string | null;
}

export type VisitKind = 'page' | 'picture' | 'stylesheet';
export type VisitState = 'waiting' | 'done' | 'skipped';

/** The outcome of an address, as the survey log says it. */
export interface Visit {
  kind: VisitKind;
  address: string;
  state: VisitState;
  reason?: Message | null;
  cause?: Cause | null;
  /** HTTP status, where there was an answer. */
  status?: number | null;
  depth?: number;
  foundOn?: string | null;
}

/** How many addresses there are of each kind in each state. */
export type Tally = Record<VisitKind, Record<VisitState, number>>;

/** How far a survey is, and the addresses of the pages in hand. */
export interface FrontierProgress {
  tally: Tally;
  inHand: string[];
}

const none = () => ({ waiting: 0, done: 0, skipped: 0 });

/**
 * Which addresses of pages a survey has met, how far each is, and which comes next. Each is handed out once, in the order
 * in which they were met: of the list, only items from `at` onward wait.
 */
export class Frontier {
  private readonly met = new Map<string, 'waiting' | 'left' | 'skipped' | 'done'>();
  private readonly waiting: Waiting[] = [];
  private at = 0;
  private readonly inHand = new Set<string>();
  /** Pages that were read or wait: what the limit is compared with. */
  private counted = 0;
  private readonly tally: Tally = { page: none(), picture: none(), stylesheet: none() };

  /** @param maxPages pages that are read at most */
  constructor(private readonly maxPages: number) {}

  get progress(): FrontierProgress {
    return { tally: this.tally, inHand: [...this.inHand] };
  }

  /** Takes over what an earlier run has left waiting. */
  restoreWaiting(waiting: readonly Waiting[]): void {
    this.tally.page.waiting += waiting.length;
    for (const one of waiting) {
      this.met.set(one.address, 'waiting');
      this.waiting.push(one);
    }
    this.counted += waiting.length;
  }

  /**
   * Takes over what an earlier run has settled.
   *
   * @param again whether another link may lead to them after all
   */
  restoreSettled(kind: VisitKind, state: 'done' | 'skipped', again: boolean, addresses: readonly string[]): void {
    this.tally[kind][state] += addresses.length;
    if (kind !== 'page') return;
    for (const address of addresses) this.met.set(address, again ? 'left' : state);
    if (state === 'done') this.counted += addresses.length;
  }

  /** Counts a visit; its latest state is what the log keeps. */
  count(visit: Visit): Visit {
    this.tally[visit.kind][visit.state]++;
    return visit;
  }

  /** A visit that could not be stored as it was, and is skipped instead. */
  recount({ kind, address, state }: Pick<Visit, 'kind' | 'address' | 'state'>): void {
    this.tally[kind][state]--;
    this.tally[kind].skipped++;
    if (kind === 'page') this.met.set(address, 'skipped');
  }

  /** Adds addresses that were not met before; over the limit of pages they are skipped. */
  add(addresses: readonly Waiting[]): Visit[] {
    const visits: Visit[] = [];
    for (const { address: whole, depth, foundOn } of addresses) {
      const address = short(whole);
      const before = this.met.get(address);
      // One that was left out on one way may be reached on another.
      if (before !== undefined && before !== 'left') continue;
      if (this.counted < this.maxPages) {
        this.counted++;
        if (before === 'left') this.tally.page.skipped--;
        this.met.set(address, 'waiting');
        this.waiting.push({ address, depth, foundOn });
        visits.push(this.count({ kind: 'page', address, state: 'waiting', depth, foundOn }));
      } else if (before === undefined) {
        this.met.set(address, 'skipped');
        const reason = { id: 'skip.page-limit', values: { limit: this.maxPages } };
        visits.push(this.count({ kind: 'page', address, state: 'skipped', reason, cause: 'limit', depth, foundOn }));
      }
    }
    return visits;
  }

  /** Leaves addresses out, unless they were met before or another link leads to them. */
  leave(left: readonly { address: string; foundOn: string; skipped: Skipped }[]): Visit[] {
    const visits: Visit[] = [];
    for (const { address: whole, foundOn, skipped } of left) {
      const address = short(whole);
      if (this.met.has(address)) continue;
      const again = skipped.why === 'nofollow' || skipped.why === 'depth';
      this.met.set(address, again ? 'left' : 'skipped');
      visits.push(
        this.count({ kind: 'page', address, state: 'skipped', reason: skipped.reason, cause: skipped.why, foundOn }),
      );
    }
    return visits;
  }

  /** The next address to read; null when none waits. */
  next(): Waiting | null {
    while (this.at < this.waiting.length) {
      const next = this.waiting[this.at]!;
      this.at++;
      // A redirect may have led to it meanwhile.
      if (this.met.get(next.address) !== 'waiting') continue;
      this.inHand.add(next.address);
      return next;
    }
    return null;
  }

  isDone(address: string): boolean {
    return this.met.get(short(address)) === 'done';
  }

  get waitingCount(): number {
    return this.tally.page.waiting;
  }

  /**
   * Settles a page. What was read stays read: a second way to it may be too long or lead elsewhere.
   *
   * @returns the visit to log; null where it was read before
   */
  settle(whole: string, state: 'done' | 'skipped', about: Partial<Visit>): Visit | null {
    const address = short(whole);
    this.inHand.delete(address);
    const before = this.met.get(address);
    if (before === 'done') return null;
    if (before !== undefined) this.tally.page[before === 'waiting' ? 'waiting' : 'skipped']--;
    else if (state === 'done') this.counted++;
    this.met.set(address, state);
    return this.count({ kind: 'page', address, state, ...about });
  }
}

/** Bytes of an address that an index holds, with the other columns in it. */
const LONGEST_KEY = 2_000;

/** A `data:` address can be longer than an entry of an index may be. */
export function short(address: string): string {
  // A UTF-16 code unit is three bytes at most; most addresses need no counting.
  if (3 * address.length <= LONGEST_KEY || Buffer.byteLength(address) <= LONGEST_KEY) return address;
  return `${address.slice(0, 200)}…${createHash('sha256').update(address).digest('hex')}`;
}
