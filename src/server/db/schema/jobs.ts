// What is done in the background.
import { index, json, pgTable, primaryKey, real, text, timestamp } from 'drizzle-orm/pg-core';
import { collection } from './catalogue';
import { now } from './columns';

/** What is done in the background for a collection, and how far it is; nothing where there is nothing to do. */
export const jobProgress = pgTable(
  'job_progress',
  {
    kind: text().notNull(),
    collectionId: text()
      .notNull()
      .references(() => collection.id, { onDelete: 'cascade' }),
    state: text({ enum: ['waiting', 'running', 'stopping', 'failed'] }).notNull(),
    /** From 0 to 1; null where nobody can say. */
    share: real(),
    /** What else the job says of itself. */
    detail: json(),
    /** Why it could not be done. */
    error: text(),
    updatedAt: now(),
  },
  (t) => [primaryKey({ columns: [t.kind, t.collectionId] })],
);

/** A process that does jobs, where several share the database. */
export const workerProcess = pgTable('worker_process', {
  id: text().primaryKey(),
  /** When it last said that it lives. */
  seenAt: now(),
});

const processId = () =>
  text()
    .notNull()
    .references(() => workerProcess.id, { onDelete: 'cascade' });

/** A job that a process has fetched, by its id in the queue. */
export const jobClaim = pgTable('job_claim', { jobId: text().primaryKey(), processId: processId() }, (t) => [
  index('job_claim_process').on(t.processId),
]);

/** A lane of a collection in which a process does a job. */
export const laneHold = pgTable(
  'lane_hold',
  { collectionId: text().notNull(), lane: text().notNull(), processId: processId() },
  (t) => [primaryKey({ columns: [t.collectionId, t.lane] }), index('lane_hold_process').on(t.processId)],
);

/** When the next request may go to a host or a service, where several processes share the database. */
export const rateLimit = pgTable('rate_limit', {
  key: text().primaryKey(),
  freeAt: timestamp({ withTimezone: true }).notNull(),
});
