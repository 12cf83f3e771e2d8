// Surveys, and what each has met.
import { sql } from 'drizzle-orm';
import { index, integer, jsonb, pgTable, primaryKey, text, timestamp } from 'drizzle-orm/pg-core';
import type { Cause, SurveySummary } from '@/contract/survey';
import type { Message } from '@/core/model/message';
import { collection } from './catalogue';
import { id, now } from './columns';

/** One pass that gathers pages and pictures. */
export const survey = pgTable(
  'survey',
  {
    id: id(),
    collectionId: text()
      .notNull()
      .references(() => collection.id, { onDelete: 'cascade' }),
    state: text({ enum: ['running', 'stopped', 'done', 'failed'] }).notNull(),
    phase: text({ enum: ['gathering', 'auditing', 'over'] })
      .notNull()
      .default('gathering'),
    /** How it ended, where it did not end as it should. */
    message: jsonb().$type<Message>(),
    summary: jsonb().$type<SurveySummary>(),
    /** How often it was started since a page was last settled: a page that ends the process is not tried for ever. */
    starts: integer().notNull().default(0),
    /** Addresses that were being read when no page had been settled yet since the last start. */
    reading: text()
      .array()
      .notNull()
      .default(sql`'{}'::text[]`),
    startedAt: now(),
    finishedAt: timestamp({ withTimezone: true }),
  },
  (t) => [index().on(t.collectionId)],
);

/** One address that a survey has met: its frontier while it waits, its account afterwards. */
export const visit = pgTable(
  'visit',
  {
    surveyId: integer()
      .notNull()
      .references(() => survey.id, { onDelete: 'cascade' }),
    seq: integer().generatedAlwaysAsIdentity(),
    address: text().notNull(),
    kind: text({ enum: ['page', 'picture', 'stylesheet'] }).notNull(),
    depth: integer().notNull().default(0),
    state: text({ enum: ['waiting', 'done', 'skipped'] }).notNull(),
    reason: jsonb().$type<Message>(),
    cause: text().$type<Cause>(),
    /** HTTP status, where there was an answer. */
    status: integer(),
    /** The page that led to it first. */
    foundOn: text(),
    /** When it was read or given up. */
    settledAt: timestamp({ withTimezone: true }),
  },
  (t) => [primaryKey({ columns: [t.surveyId, t.kind, t.address] }), index().on(t.surveyId, t.kind, t.state, t.seq)],
);
