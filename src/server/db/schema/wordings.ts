// What was written, by whom, and what can be undone.
import { sql } from 'drizzle-orm';
import { boolean, index, integer, jsonb, pgTable, real, text, timestamp, uniqueIndex } from 'drizzle-orm/pg-core';
import type { DraftRecord } from '@/contract/drafting';
import { TEXT_FIELDS } from '@/core/model/texts';
import { collection, picture, appearance } from './catalogue';
import { id, now } from './columns';

/** Append-only: every text that an appearance was given, by whom, and its outcome. */
export const wording = pgTable(
  'wording',
  {
    id: id(),
    collectionId: text()
      .notNull()
      .references(() => collection.id, { onDelete: 'cascade' }),
    appearanceId: integer()
      .notNull()
      .references(() => appearance.id, { onDelete: 'cascade' }),
    /** `''` for silence; null gives the appearance back to what the page says. */
    text: text(),
    by: text({ enum: ['person', 'drafter', 'page'] }).notNull(),
    /** `conflict`: kept, and waits until somebody chooses between it and another text. */
    state: text({ enum: ['accepted', 'draft', 'rejected', 'undone', 'conflict'] }).notNull(),
    /** What was done at one stroke is undone at one stroke. */
    act: text().notNull(),
    /** The act that rejected it, or its own once that is undone; and its state before, which undo and redo bring back. */
    closedAct: text(),
    closedFrom: text({ enum: ['accepted', 'draft', 'conflict'] }),
    /** Where it came from, of a text that a machine drafted; null of one that a person wrote. */
    draft: jsonb().$type<DraftRecord>(),
    /** How likely the draft can be accepted as it stands, from 0 to 1; null of what is no draft. */
    grade: real(),
    /** The round that it was drafted in. */
    roundId: integer(),
    at: now(),
  },
  (t) => [
    index().on(t.appearanceId, t.id),
    index('wording_round_index')
      .on(t.roundId)
      .where(sql`round_id is not null`),
    index().on(t.collectionId, t.act),
    index('wording_closed_index')
      .on(t.collectionId, t.closedAct)
      .where(sql`closed_act is not null`),
    // The few that wait for somebody.
    index('wording_draft_index')
      .on(t.appearanceId)
      .where(sql`state = 'draft'`),
  ],
);

/** Two texts for one appearance, between which a person has to choose; until then nothing is delivered there. */
export const conflict = pgTable(
  'conflict',
  {
    id: id(),
    collectionId: text()
      .notNull()
      .references(() => collection.id, { onDelete: 'cascade' }),
    appearanceId: integer()
      .notNull()
      .references(() => appearance.id, { onDelete: 'cascade' }),
    /** `edit`: two people wrote from the same state. `page`: the page was changed after its picture was worded. */
    kind: text({ enum: ['edit', 'page'] }).notNull(),
    /** What the page said when it was found; null for no alt text, as in the two others. */
    first: text(),
    /** What stands now: on the page, or as somebody else saved it. */
    theirs: text(),
    ours: text(),
    /** The act under which ours was written. */
    act: text(),
    at: now(),
    /** When somebody chose; null while it is open. */
    settledAt: timestamp({ withTimezone: true }),
    choice: text({ enum: ['ours', 'theirs', 'other'] }),
    /** The act under which somebody chose: undone, it opens again. */
    chosenAct: text(),
  },
  (t) => [
    index().on(t.collectionId),
    uniqueIndex('conflict_open_index')
      .on(t.appearanceId)
      .where(sql`settled_at is null`),
  ],
);

/** Append-only: every text other than its alt text that a picture, or a place of it, was given. */
export const fieldText = pgTable(
  'field_text',
  {
    id: id(),
    collectionId: text()
      .notNull()
      .references(() => collection.id, { onDelete: 'cascade' }),
    field: text({ enum: TEXT_FIELDS }).notNull(),
    pictureId: integer()
      .notNull()
      .references(() => picture.id, { onDelete: 'cascade' }),
    /** The place that a title or a caption is for; null for what belongs to the picture. */
    appearanceId: integer().references(() => appearance.id, { onDelete: 'cascade' }),
    /** A long description in CommonMark; `''` takes a text away, null gives back what the page or the file says. */
    text: text(),
    by: text({ enum: ['person', 'page'] })
      .notNull()
      .default('person'),
    state: text({ enum: ['accepted', 'undone'] }).notNull(),
    act: text().notNull(),
    /** It is undone because its act was, so redoing brings it back. */
    redoable: boolean().notNull().default(false),
    at: now(),
  },
  (t) => [index().on(t.pictureId, t.field, t.id), index().on(t.appearanceId), index().on(t.collectionId, t.act)],
);

/** What an act changed that has no history of its own, with what stood there before and after, for undo and redo. */
export const actStep = pgTable(
  'act_step',
  {
    id: id(),
    collectionId: text()
      .notNull()
      .references(() => collection.id, { onDelete: 'cascade' }),
    act: text().notNull(),
    kind: text({ enum: ['purpose', 'credit', 'style', 'left-out', 'placement', 'credit-line'] }).notNull(),
    /** Id of the appearance or picture; 0 for the collection. */
    target: integer().notNull(),
    before: jsonb(),
    after: jsonb(),
    undone: boolean().notNull().default(false),
    at: now(),
  },
  (t) => [index().on(t.collectionId, t.act)],
);
