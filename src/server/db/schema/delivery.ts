// What is to go back, and what went.
import {
  bigint,
  boolean,
  index,
  integer,
  json,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
} from 'drizzle-orm/pg-core';
import type { Appearance } from '@/core/model/appearance';
import { DELIVERY_STATES, type DeliveryPage } from '@/contract/delivery';
import type { Message } from '@/core/model/message';
import { collection } from './catalogue';
import { id, now } from './columns';

/** What waited at an appearance when its document was delivered, and what the page said there. */
export interface DeliveredTexts {
  /** Of the appearance. */
  id: number;
  reading: Appearance;
  words: string | null;
  title: string | null;
  caption: string | null;
  creditLine: boolean | null;
}

/** What a delivery would do to one document, kept so that neither the preview nor the delivery works it out twice. */
export const preparedDocument = pgTable(
  'prepared_document',
  {
    collectionId: text()
      .notNull()
      .references(() => collection.id, { onDelete: 'cascade' }),
    /** Of the document, as in `page`. */
    path: text().notNull(),
    /** Documents that the delivery itself makes come after all others. */
    isNew: boolean().notNull().default(false),
    /** Where it comes among the others, from 1. */
    position: integer().notNull(),
    /** Appearances with texts that may not be in it yet. */
    places: integer().notNull(),
    /** Hash of its bytes and of all texts that go into it: another one means that it has to be written again. */
    key: text().notNull(),
    /** What is still to do before it can be shown or delivered; null when nothing is. */
    due: text({ enum: ['write', 'compare'] }),
    /** Null until it was written for the first time. */
    document: json().$type<DeliveryPage>(),
    changes: integer().notNull().default(0),
    waiting: integer().notNull().default(0),
    conflicts: integer().notNull().default(0),
    refusals: integer().notNull().default(0),
    aside: integer().notNull().default(0),
    isLeftOut: boolean().notNull().default(false),
    /** SHA-256 of its bytes as surveyed and with its texts; the latter null where nothing is written. */
    hashBefore: text(),
    hashAfter: text(),
    /** When it was last found to be as it was surveyed, or not. */
    comparedAt: timestamp({ withTimezone: true }),
  },
  (t) => [primaryKey({ columns: [t.collectionId, t.path] }), index().on(t.collectionId, t.isNew, t.position)],
);

/** One time that words went back. */
export const delivery = pgTable(
  'delivery',
  {
    id: id(),
    collectionId: text()
      .notNull()
      .references(() => collection.id, { onDelete: 'cascade' }),
    target: text().notNull().default('zip'),
    /** As the target declares it. */
    configuration: jsonb().$type<Record<string, unknown>>().notNull().default({}),
    state: text({ enum: DELIVERY_STATES }).notNull().default('done'),
    /** Documents of it and changes in them that the target has taken, and of how many. */
    pages: integer().notNull(),
    changes: integer().notNull(),
    total: integer().notNull().default(0),
    /** Why it failed or could not be undone as a whole. */
    reason: jsonb().$type<Message>(),
    /** The file to download: its name and its bytes; null where there is none, or it was removed again. */
    fileName: text(),
    fileBytes: bigint({ mode: 'number' }),
    at: now(),
  },
  (t) => [index().on(t.collectionId)],
);

/** The receipt for one document of a delivery: what a target did with it. */
export const deliveredDocument = pgTable(
  'delivered_document',
  {
    deliveryId: integer()
      .notNull()
      .references(() => delivery.id, { onDelete: 'cascade' }),
    /** Of the document, as in `page`. */
    path: text().notNull(),
    /** Where the target keeps it. */
    address: text().notNull(),
    state: text({ enum: ['written', 'refused', 'undone'] }).notNull(),
    /** Why it was refused, or could not be undone. */
    reason: jsonb().$type<Message>(),
    changes: integer().notNull(),
    /** Of a document in the very folder that is surveyed, the texts that wait again when it is undone; null elsewhere. */
    texts: json().$type<DeliveredTexts[]>(),
    /** SHA-256 of what was there, and of what is there now; null before where nothing was. */
    hashBefore: text(),
    hashAfter: text().notNull(),
    at: now(),
  },
  (t) => [primaryKey({ columns: [t.deliveryId, t.path] })],
);
