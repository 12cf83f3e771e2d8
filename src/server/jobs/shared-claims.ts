import { randomUUID } from 'node:crypto';
import { and, eq, inArray, lt, ne, sql } from 'drizzle-orm';
import { database } from '../db/database';
import { jobClaim, laneHold, workerProcess } from '../db/schema';
import { log } from '../log';
import type { ClaimsPort } from '../ports/claims';
import { requeue } from './queue';

/** Seconds without a sign of life after which a process counts as dead, by the clock of the database. */
const LEASE_SECONDS = 15;
/** Milliseconds between two signs of life. */
const RENEW_MS = 3_000;

/**
 * Where several processes share the database: rows say which lives, which job and which lane each has. A process that was
 * killed is missed after {@link LEASE_SECONDS}, and what it had goes with its row.
 */
export class SharedClaims implements ClaimsPort {
  readonly mostHeld = 20;
  private id = randomUUID();
  private renewed = -Infinity;
  private isKnown = false;
  /** Since when it could give a sign of life without interruption, in milliseconds. */
  private since = 0;

  constructor(
    private readonly lease = LEASE_SECONDS,
    private readonly every = RENEW_MS,
  ) {}

  async renew(): Promise<boolean> {
    const now = performance.now();
    if (now - this.renewed < this.every) return true;
    // After a database that was down, everybody is late: nobody is taken for dead before all could say that they live.
    if (now - this.renewed > 2 * this.every) this.since = now;
    const db = await database();
    if (!this.isKnown) {
      await db.insert(workerProcess).values({ id: this.id }).onConflictDoNothing();
      this.isKnown = true;
    } else {
      const mine = await db
        .update(workerProcess)
        .set({ seenAt: sql`clock_timestamp()` })
        .where(eq(workerProcess.id, this.id))
        .returning({ id: workerProcess.id });
      if (mine.length === 0) {
        log.error('this process was taken for dead, and begins again as another');
        this.id = randomUUID();
        this.isKnown = false;
        return false;
      }
    }
    this.renewed = now;
    if (now - this.since >= 2 * this.every || this.since === now) await this.takeOver(this.since !== now);
    return true;
  }

  /** @param fromDead whether also of those that give no sign of life; otherwise only what nobody has claimed for long */
  private async takeOver(fromDead: boolean): Promise<void> {
    const db = await database();
    const late = sql`clock_timestamp() - make_interval(secs => ${this.lease})`;
    if (fromDead) {
      const dead = await db
        .delete(workerProcess)
        .where(and(lt(workerProcess.seenAt, late), ne(workerProcess.id, this.id)))
        .returning({ id: workerProcess.id });
      if (dead.length > 0) log.warn({ processes: dead.length }, 'jobs of processes that ended are taken over');
    }
    // One that was fetched just now is claimed in a moment.
    await requeue(sql`a.started_on < ${late} and not exists (select from job_claim c where c.job_id = a.id::text)`);
  }

  async claim(ids: readonly string[]): Promise<void> {
    const db = await database();
    await db
      .insert(jobClaim)
      .values(ids.map((jobId) => ({ jobId, processId: this.id })))
      .onConflictDoUpdate({ target: jobClaim.jobId, set: { processId: this.id } });
  }

  async enterLane(collectionId: string, lane: string): Promise<boolean> {
    const db = await database();
    const entered = await db
      .insert(laneHold)
      .values({ collectionId, lane, processId: this.id })
      .onConflictDoNothing()
      .returning({ lane: laneHold.lane });
    return entered.length > 0;
  }

  async leaveLane(collectionId: string, lane: string): Promise<void> {
    const db = await database();
    await db
      .delete(laneHold)
      .where(and(eq(laneHold.collectionId, collectionId), eq(laneHold.lane, lane), eq(laneHold.processId, this.id)));
  }

  async release(ids: readonly string[]): Promise<void> {
    const db = await database();
    await db.delete(jobClaim).where(this.own(ids));
  }

  async giveBack(ids: readonly string[]): Promise<void> {
    const db = await database();
    const own = await db.delete(jobClaim).where(this.own(ids)).returning({ jobId: jobClaim.jobId });
    if (own.length > 0) await requeue(sql`a.id::text = any(${sql.param(own.map((o) => o.jobId))}::text[])`);
  }

  private own(ids: readonly string[]) {
    return and(inArray(jobClaim.jobId, [...ids]), eq(jobClaim.processId, this.id));
  }

  async end(): Promise<void> {
    const db = await database();
    await db.delete(workerProcess).where(eq(workerProcess.id, this.id));
  }
}
