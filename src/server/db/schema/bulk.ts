// Acts on many places.
import { integer, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core';
import type { StoredWork } from '@/contract/bulk';
import { collection } from './catalogue';
import { now } from './columns';

/** An act on very many places, done in portions: what is done where, and how far it is. */
export const bulkAct = pgTable(
  'bulk_act',
  {
    act: text().notNull(),
    collectionId: text()
      .notNull()
      .references(() => collection.id, { onDelete: 'cascade' }),
    work: jsonb().$type<StoredWork>().notNull(),
    /** The appearances, fixed before it begins. */
    ids: integer().array().notNull(),
    /** How many of them are dealt with, and at how many something was done. */
    done: integer().notNull().default(0),
    places: integer().notNull().default(0),
    state: text({ enum: ['running', 'done', 'failed'] })
      .notNull()
      .default('running'),
    at: now(),
  },
  (t) => [primaryKey({ columns: [t.collectionId, t.act] })],
);
