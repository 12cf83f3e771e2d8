import { meansDatabaseDown } from '../db/database-errors';
import { log, messageOf } from '../log';
import { metrics } from '../metrics';
import { JOB_KINDS, KINDS, type JobKind, type Payload } from './kinds';
import { noteOver, noteRunning, noteShare, stopRequests } from './progress';
import type { ClaimsPort } from '../ports/claims';
import { isDatabaseShared } from '../db/database';
import { LocalClaims } from './local-claims';
import { completeJobs, failJobs, fetchJobs, isEnqueued, onEnqueued, waitingKinds } from './queue';
import { SharedClaims } from './shared-claims';

/** Why a job is to end early. */
export type EndReason = 'stopped' | 'suspended';

/** What a handler is given besides the payload. */
export interface JobContext {
  /** Aborted with an `EndReason`: `stopped` by an editor, or `suspended` until the next start. */
  signal: AbortSignal;
  /** @param share from 0 to 1; null where nobody can say */
  report(share: number | null, detail?: unknown): void;
}

/** Called when a job has failed as often as it may: what waits for it has to learn that it does not come. */
export type GiveUp = (kind: JobKind, payload: Payload[JobKind], message: string) => Promise<void>;

export type Handlers = { [K in JobKind]: (payload: Payload[K], job: JobContext) => Promise<void> };

/** One job, or several of one kind and collection that are done as one. */
interface Task {
  kind: JobKind;
  collectionId: string;
  ids: string[];
  payload: Payload[JobKind];
}

interface Running extends Task {
  controller: AbortController;
  finished: Promise<void>;
}

/** Milliseconds between two looks at the queue, when nothing says that there is something in it. */
const POLL_MS = 1_000;
/** Milliseconds between two notes of a share, since each is a write that goes to the disk. */
const REPORT_MS = 700;
/** Jobs of a kind that are fetched at once. */
const AT_ONCE = 50;

/**
 * Does what is in the queue, as many jobs at a time as their kinds allow, and jobs of one lane of a collection one after
 * the other. A job that was fetched stays in the database until it is completed.
 */
export class Worker {
  private readonly running = new Set<Running>();
  /** Fetched, and waiting for the one before it in its lane. */
  private readonly held: Task[] = [];
  private timer: NodeJS.Timeout | null = null;
  private ticking: Promise<void> | null = null;
  private again = false;
  private ending = false;
  private hasResumed = false;
  private claims: ClaimsPort | null;
  /** What could not be written while the database was down, and nobody else will write. */
  private readonly owed: (() => Promise<void>)[] = [];

  /**
   * @param resumeLeft enqueues what a stop or an update of Detto has left to do
   * @param kinds what it does of all kinds
   * @param claims says what other processes do; by default what fits the database
   */
  constructor(
    private readonly handlers: Handlers,
    private readonly resumeLeft: () => Promise<void>,
    private readonly giveUp: GiveUp,
    private readonly kinds: readonly JobKind[] = JOB_KINDS,
    claims?: ClaimsPort,
  ) {
    this.claims = claims ?? null;
  }

  /** Begins. What was running when the process ended comes first, as soon as the database can be written to. */
  start(): void {
    onEnqueued(() => this.wake());
    this.wake();
  }

  private wake(): void {
    if (this.ending) return;
    if (this.ticking) {
      this.again = true;
      return;
    }
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    this.ticking = this.tick()
      .catch((error: unknown) => {
        if (!this.ending) log.warn({ message: messageOf(error) }, 'the job queue could not be read');
      })
      .finally(() => {
        this.ticking = null;
        if (this.ending) return;
        if (this.again) {
          this.again = false;
          this.wake();
        } else this.timer = setTimeout(() => this.wake(), POLL_MS).unref();
      });
  }

  private async tick(): Promise<void> {
    const claims = (this.claims ??= (await isDatabaseShared()) ? new SharedClaims() : new LocalClaims());
    if (!(await claims.renew())) this.drop();
    for (const change of this.owed.splice(0)) await this.write(change);
    if (!this.hasResumed) {
      await this.resumeLeft();
      this.hasResumed = true;
    }
    if (this.running.size > 0) await this.endStopped();
    for (const task of this.held.splice(0)) await this.take(task, claims);
    const waiting = new Set(await waitingKinds());
    for (const kind of this.kinds)
      while (waiting.has(kind) && !this.ending) {
        const most = this.mostToFetch(kind, claims);
        const jobs = most > 0 ? await fetchJobs(kind, most) : [];
        if (jobs.length === 0) break;
        await claims.claim(jobs.map((j) => j.id));
        for (const { id, payload } of jobs)
          await this.take({ kind, collectionId: payload.collectionId, ids: [id], payload }, claims);
      }
  }

  /** What a process fetches and cannot begin, no other can begin either. */
  private mostToFetch(kind: JobKind, { mostHeld }: ClaimsPort): number {
    const room = KINDS[kind].concurrency - this.count(kind);
    if (room <= 0 || mostHeld === undefined) return room <= 0 ? 0 : AT_ONCE;
    return Math.min(room, mostHeld - this.held.filter((t) => t.kind === kind).length);
  }

  /** Writes now or, where the database is down, as soon as it is up. */
  private write(change: () => Promise<void>): Promise<void> {
    return change().catch((error: unknown) => {
      log.warn({ message: messageOf(error) }, 'the outcome of a job is written later');
      this.owed.push(change);
    });
  }

  /** Others do by now what this process was doing. */
  private drop(): void {
    this.held.length = 0;
    for (const { controller } of this.running) controller.abort('suspended' satisfies EndReason);
  }

  private count(kind: JobKind): number {
    return [...this.running].filter((t) => t.kind === kind).length;
  }

  /** Begins a task, or holds it until its lane and its kind have room. */
  private async take(task: Task, claims: ClaimsPort): Promise<void> {
    const { lane, concurrency } = KINDS[task.kind];
    const { collectionId } = task;
    const isTaken = [...this.running].some((r) => r.collectionId === collectionId && KINDS[r.kind].lane === lane);
    if (isTaken || this.count(task.kind) >= concurrency || !(await claims.enterLane(collectionId, lane))) {
      this.hold(task);
      return;
    }
    const controller = new AbortController();
    const running: Running = { ...task, controller, finished: Promise.resolve() };
    this.running.add(running);
    running.finished = this.run(running, claims)
      .finally(() => this.write(() => claims.leaveLane(collectionId, lane)))
      .finally(() => {
        this.running.delete(running);
        this.wake();
      });
  }

  private async run({ kind, collectionId, ids, payload, controller }: Running, claims: ClaimsPort): Promise<void> {
    const { signal } = controller;
    const reporter = new Reporter(kind, collectionId);
    try {
      await noteRunning(kind, collectionId);
      const handle = this.handlers[kind] as (payload: Payload[JobKind], job: JobContext) => Promise<void>;
      await handle(payload, { signal, report: (share, detail) => reporter.report(share, detail) });
      await reporter.close();
      if (isSuspended(signal)) return await claims.giveBack(ids);
      await completeJobs(kind, ids);
      metrics().jobs.inc({ kind, outcome: 'done' });
      await claims.release(ids);
      if (!this.isHeld(kind, collectionId) && !(await isEnqueued(kind, collectionId)))
        await noteOver(kind, collectionId, null);
    } catch (error) {
      metrics().jobs.inc({ kind, outcome: 'failed' });
      await reporter.close();
      log.error({ kind, collectionId, message: messageOf(error) }, 'a job failed');
      // A job that fails because the process ends, or because the database is gone, is taken up again.
      if (isSuspended(signal) || meansDatabaseDown(error)) return await this.write(() => claims.giveBack(ids));
      const again = await failJobs(kind, ids, error).catch(() => true);
      await claims.release(ids).catch(() => undefined);
      if (again) return;
      await noteOver(kind, collectionId, messageOf(error)).catch(() => undefined);
      await this.giveUp(kind, payload, messageOf(error)).catch(() => undefined);
    }
  }

  /** Of what waits for the same lane, two jobs of one kind become one. */
  private hold(task: Task): void {
    const merge = KINDS[task.kind].merge as (one: unknown, other: unknown) => Payload[JobKind] | null;
    for (const same of this.held) {
      if (same.kind !== task.kind || same.collectionId !== task.collectionId) continue;
      const merged = merge(same.payload, task.payload);
      if (merged === null) continue;
      same.ids.push(...task.ids);
      same.payload = merged;
      return;
    }
    this.held.push(task);
  }

  private isHeld(kind: JobKind, collectionId: string): boolean {
    return this.held.some((t) => t.kind === kind && t.collectionId === collectionId);
  }

  private async endStopped(): Promise<void> {
    for (const { kind, collectionId } of await stopRequests())
      for (const r of this.running)
        if (r.kind === kind && r.collectionId === collectionId) r.controller.abort('stopped' satisfies EndReason);
  }

  /** Ends everything without completing it, so that the next start goes on. */
  async end(): Promise<void> {
    this.ending = true;
    if (this.timer) clearTimeout(this.timer);
    await this.ticking;
    for (const { controller } of this.running) controller.abort('suspended' satisfies EndReason);
    await Promise.all([...this.running].map(({ finished }) => finished));
    await this.claims?.giveBack(this.held.splice(0).flatMap(({ ids }) => ids)).catch(() => undefined);
    await this.claims?.end().catch(() => undefined);
  }

  /** Resolves when nothing is in the queue that may begin, and nothing runs; for tests and benchmarks. */
  async idle(): Promise<void> {
    for (;;) {
      await this.ticking;
      const isWaiting = (await waitingKinds()).some((k) => this.kinds.includes(k));
      // What a look at the queue has fetched meanwhile is in neither list yet.
      const isBusy = this.ticking !== null || this.running.size > 0 || this.held.length > 0;
      if (this.hasResumed && !isWaiting && !isBusy) return;
      await Promise.race([...[...this.running].map(({ finished }) => finished), pause(20)]);
      this.wake();
    }
  }
}

const pause = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms));

const isSuspended = (signal: AbortSignal) => signal.reason === ('suspended' satisfies EndReason);

/** Writes how far a job is, not more often than every `REPORT_MS`. */
class Reporter {
  private latest: { share: number | null; detail: unknown } | null = null;
  private timer: NodeJS.Timeout | null = null;
  private writing: Promise<void> = Promise.resolve();

  constructor(
    private readonly kind: JobKind,
    private readonly collectionId: string,
  ) {}

  report(share: number | null, detail: unknown = null): void {
    this.latest = { share, detail };
    this.timer ??= setTimeout(() => {
      this.timer = null;
      const { latest } = this;
      if (latest)
        this.writing = noteShare(this.kind, this.collectionId, latest.share, latest.detail).catch(() => undefined);
    }, REPORT_MS).unref();
  }

  async close(): Promise<void> {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    await this.writing;
  }
}
