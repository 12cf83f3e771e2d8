// What is done in the background.
import { json, pgTable, primaryKey, real, text } from 'drizzle-orm/pg-core';
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
