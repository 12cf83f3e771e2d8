// Where bytes are kept.
import { integer, pgTable, text } from 'drizzle-orm/pg-core';

/** Where bytes are kept that pages, pictures and thumbnails are made of: by their SHA-256, in packs. */
export const file = pgTable('file', {
  sha256: text().primaryKey(),
  pack: integer().notNull(),
  /** Bytes from the beginning of the pack. */
  start: integer().notNull(),
  length: integer().notNull(),
});
