import { sql } from 'drizzle-orm';
import { integer, text, timestamp } from 'drizzle-orm/pg-core';

/** Columns that many tables have. */
export const id = () => integer().primaryKey().generatedAlwaysAsIdentity();
export const texts = () =>
  text()
    .array()
    .notNull()
    .default(sql`'{}'::text[]`);
export const now = () => timestamp({ withTimezone: true }).notNull().defaultNow();
