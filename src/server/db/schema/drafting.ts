// Services that draft, rounds of drafts, and what they cost.
import {
  boolean,
  doublePrecision,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
} from 'drizzle-orm/pg-core';
import { ROUND_STATES, type RoundOrder } from '@/contract/drafting';
import type { Message } from '@/core/model/message';
import { collection } from './catalogue';
import { id, now } from './columns';

/** A server that drafts texts from pictures, for all collections. */
export const draftingService = pgTable('drafting_service', {
  id: id(),
  name: text().notNull().unique(),
  address: text().notNull(),
  model: text().notNull(),
  /** Sealed; null where it needs none. */
  key: text(),
  /** Per million tokens. */
  priceIn: doublePrecision().notNull(),
  priceOut: doublePrecision().notNull(),
  currency: text().notNull(),
  maxSide: integer().notNull(),
  atOnce: integer().notNull(),
  perMinute: integer().notNull(),
  timeoutSeconds: integer().notNull(),
  monthlyBudget: doublePrecision(),
  at: now(),
});

/** Somebody has agreed that pictures of a collection are sent to a host on another machine. */
export const draftingConsent = pgTable(
  'drafting_consent',
  {
    collectionId: text()
      .notNull()
      .references(() => collection.id, { onDelete: 'cascade' }),
    host: text().notNull(),
    at: now(),
  },
  (t) => [primaryKey({ columns: [t.collectionId, t.host] })],
);

/** Append-only: the collection's own instructions for models; the latest counts. */
export const draftPrompt = pgTable(
  'draft_prompt',
  {
    collectionId: text()
      .notNull()
      .references(() => collection.id, { onDelete: 'cascade' }),
    version: integer().notNull(),
    instructions: text().notNull(),
    at: now(),
  },
  (t) => [primaryKey({ columns: [t.collectionId, t.version] })],
);

/** One request to a service, and what it cost. */
export const draftingCall = pgTable(
  'drafting_call',
  {
    id: id(),
    serviceId: integer()
      .notNull()
      .references(() => draftingService.id, { onDelete: 'cascade' }),
    collectionId: text().references(() => collection.id, { onDelete: 'set null' }),
    roundId: integer(),
    tokensIn: integer().notNull(),
    tokensOut: integer().notNull(),
    /** What it cost; before it is answered, the most that it can. */
    cost: doublePrecision().notNull(),
    isSettled: boolean().notNull().default(true),
    at: now(),
  },
  (t) => [index().on(t.serviceId, t.at), index().on(t.roundId)],
);

/** A batch of drafting. */
export const round = pgTable(
  'round',
  {
    id: id(),
    collectionId: text()
      .notNull()
      .references(() => collection.id, { onDelete: 'cascade' }),
    /** Under which all its drafts are undone. */
    act: text().notNull(),
    order: jsonb().$type<RoundOrder>().notNull(),
    /** Null for the evidence drafter, or for a service that was removed since. */
    serviceId: integer().references(() => draftingService.id, { onDelete: 'set null' }),
    /** Name and model of the service, as they were; null for the evidence drafter. */
    drafter: text(),
    model: text(),
    currency: text(),
    state: text({ enum: ROUND_STATES }).notNull().default('running'),
    reason: jsonb().$type<Message>(),
    at: now(),
    finishedAt: timestamp({ withTimezone: true }),
  },
  (t) => [index().on(t.collectionId)],
);

/** One picture in one context, for which a round asks once. */
export const roundItem = pgTable(
  'round_item',
  {
    id: id(),
    roundId: integer()
      .notNull()
      .references(() => round.id, { onDelete: 'cascade' }),
    /** The appearances that its answer serves; the first is the one that is asked about. */
    appearanceIds: integer().array().notNull(),
    /** `asking`: a request may be under way; the next start asks again under the same key. */
    state: text({ enum: ['waiting', 'asking', 'drafted', 'silent', 'failed'] })
      .notNull()
      .default('waiting'),
    /** The first of a series of look-alikes goes first; the others wait for its wording. */
    rank: integer().notNull().default(0),
    /** How often a person has had it asked again: a new request, not the one that failed. */
    retries: integer().notNull().default(0),
    reason: jsonb().$type<Message>(),
    cost: doublePrecision().notNull().default(0),
    finishedAt: timestamp({ withTimezone: true }),
  },
  (t) => [index().on(t.roundId, t.state, t.rank, t.id)],
);
