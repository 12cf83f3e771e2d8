// What rules found, and what people ignore.
import { boolean, index, integer, jsonb, pgTable, text } from 'drizzle-orm/pg-core';
import type { Message } from '@/core/model/message';
import type { Fix, SubsumedFinding } from '@/core/model/finding';
import { collection, picture, appearance } from './catalogue';
import { id, now } from './columns';

export const finding = pgTable(
  'finding',
  {
    id: id(),
    collectionId: text()
      .notNull()
      .references(() => collection.id, { onDelete: 'cascade' }),
    pictureId: integer()
      .notNull()
      .references(() => picture.id, { onDelete: 'cascade' }),
    appearanceId: integer()
      .notNull()
      .references(() => appearance.id, { onDelete: 'cascade' }),
    /** Of the appearance. */
    pageId: integer().notNull().default(0),
    rule: text().notNull(),
    outcome: text({ enum: ['failed', 'cantTell', 'advice'] }).notNull(),
    message: jsonb().$type<Message>().notNull(),
    spanStart: integer(),
    spanEnd: integer(),
    fixes: jsonb().$type<Fix[]>().notNull().default([]),
    /** What other rules found of the same cause. */
    also: jsonb().$type<SubsumedFinding[]>().notNull().default([]),
    /** A person has set it aside: it is kept, and counts nowhere. */
    ignored: boolean().notNull().default(false),
  },
  (t) => [index().on(t.pictureId), index().on(t.appearanceId), index().on(t.collectionId, t.rule)],
);

/** Findings that a person ignores at an appearance, as long as the words and the picture stay the same. */
export const ignoredFinding = pgTable(
  'ignored_finding',
  {
    id: id(),
    collectionId: text()
      .notNull()
      .references(() => collection.id, { onDelete: 'cascade' }),
    appearanceId: integer()
      .notNull()
      .references(() => appearance.id, { onDelete: 'cascade' }),
    rule: text().notNull(),
    reason: text().notNull(),
    /** Who, as they called themselves. */
    by: text().notNull(),
    /** Hash of the words and the picture: when either changes, the finding comes back. */
    basis: text().notNull(),
    act: text().notNull(),
    /** It counts no more, and the act by which: its own, when that was undone, or one that shows the finding again. */
    undone: boolean().notNull().default(false),
    undoneAct: text(),
    at: now(),
  },
  (t) => [index().on(t.appearanceId, t.rule), index().on(t.collectionId, t.act)],
);
