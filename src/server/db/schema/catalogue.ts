// Collections, their pages and pictures, and where each picture is used.
import { sql } from 'drizzle-orm';
import {
  boolean,
  index,
  integer,
  json,
  jsonb,
  pgTable,
  primaryKey,
  real,
  text,
  uniqueIndex,
} from 'drizzle-orm/pg-core';
import type { Brief } from '@/contract/brief';
import type { DraftingPlan } from '@/contract/drafting';
import type { Scope } from '@/contract/scope';
import type { Appearance, Region } from '@/core/model/appearance';
import { FORMAT_IDS, type FrontMatterKeys } from '@/core/model/document';
import type { Message } from '@/core/model/message';
import type { Placement } from '@/core/model/texts';
import type { PagePicture } from '@/core/model/page';
import type { RuleStyle } from '@/core/rules/audit';
import type { Credit } from '@/core/model/credit';
import type { Recognition } from '@/core/picture/recognised';
import type { Fingerprint } from '@/core/picture/fingerprint';
import type { Kind, Rights } from '@/core/model/picture-analysis';
import type { PictureDetails } from '@/core/picture/details';
import type { Phrase } from '@/core/words/phrases';
import { id, now, texts } from './columns';

/** One site or one document set, with its house style. */
export const collection = pgTable('collection', {
  /** Short name in addresses. */
  id: text().primaryKey(),
  name: text().notNull(),
  kind: text({ enum: ['site', 'folder', 'zip', 'upload'] }).notNull(),
  /** Address, path of the folder, or path of the file that was dropped. */
  root: text().notNull(),
  maxPages: integer().notNull(),
  maxDepth: integer().notNull(),
  style: jsonb().$type<RuleStyle>().notNull().default({}),
  /** What opens or closes too many of its texts, as of the last count. */
  phrases: jsonb().$type<Phrase[]>().notNull().default([]),
  /** Words in lower case that stand in its running text over three times, parted by spaces. */
  vocabulary: text().notNull().default(''),
  /** Titles that over a tenth of its pages have: they say nothing of one page. */
  commonTitles: jsonb().$type<string[]>().notNull().default([]),
  /** Version of the audit whose findings are stored; an older one is repeated at the next start. */
  auditVersion: integer().notNull().default(0),
  /** Rises with every change of words, purposes and house style: an audit that was reading meanwhile reads again. */
  changes: integer().notNull().default(0),
  scope: jsonb().$type<Partial<Scope>>().notNull().default({}),
  /** Rises with every change of words, so that a save can say which state it began from. */
  revision: integer().notNull().default(0),
  /** How to sign in to its hosts, sealed; never in the clear. */
  access: text(),
  /** What is drafted without being asked for. */
  drafting: jsonb().$type<DraftingPlan>().notNull().default({ newPictures: null }),
  /** What its Brief said when it was last counted, and of which state that was. */
  brief: json().$type<Brief>(),
  briefOf: text(),
  createdAt: now(),
});

export const page = pgTable(
  'page',
  {
    id: id(),
    collectionId: text()
      .notNull()
      .references(() => collection.id, { onDelete: 'cascade' }),
    /** Address, or path below the root of the collection. */
    path: text().notNull(),
    format: text({ enum: FORMAT_IDS }).notNull().default('html'),
    /** Path of the document that it is a page of; null where it is the document itself, as web pages are. */
    document: text(),
    /** What pages of one document or course are sorted by; null where the path serves. */
    sortKey: text(),
    title: text().notNull(),
    /** Of `meta name=description`, and its first headings. */
    description: text(),
    headings: jsonb().$type<string[]>().notNull().default([]),
    lang: text(),
    charset: text().notNull(),
    transport: text(),
    /** Keys of front matter that it was read with, so that it is written with the same; null where it has none. */
    frontMatter: jsonb().$type<FrontMatterKeys[]>(),
    /** Stored file with the bytes as surveyed. */
    source: text().notNull(),
    /** Validators of the server (RFC 9110, 8.8), for asking whether it has changed. */
    etag: text(),
    lastModified: text(),
    /** Addresses of pages that it leads to, and of all pictures on it. */
    links: jsonb().$type<string[]>().notNull().default([]),
    pictures: jsonb().$type<string[]>().notNull().default([]),
    /** The same for two addresses of one page. */
    sameKey: text(),
    /** Hash of what it shows, which tells whether a page that scripts make has changed. */
    showsKey: text(),
    /** Of `meta robots` and `X-Robots-Tag`. */
    directives: text()
      .array()
      .notNull()
      .default(sql`'{}'::text[]`),
    /** Icons of the page, and previews that others show of it. */
    pagePictures: jsonb().$type<PagePicture[]>().notNull().default([]),
    /** A browser had a part in the reading. */
    rendered: boolean().notNull().default(false),
    /** Version of the reading; pages of older ones are read again by the next survey, changed or not. */
    reader: integer().notNull().default(0),
    surveyId: integer().notNull(),
    /** The surveys that found it first, and changed last. */
    firstSurveyId: integer().notNull().default(0),
    changedSurveyId: integer().notNull().default(0),
    /** The last survey did not find it any more. */
    gone: boolean().notNull().default(false),
  },
  (t) => [uniqueIndex().on(t.collectionId, t.path), index().on(t.collectionId, t.sameKey)],
);

/** One distinct image by its content; broken ones by their address, pictureless elements by their place. */
export const picture = pgTable(
  'picture',
  {
    id: id(),
    collectionId: text()
      .notNull()
      .references(() => collection.id, { onDelete: 'cascade' }),
    /** SHA-256, else `address:…`. */
    key: text().notNull(),
    sha256: text(),
    type: text(),
    bytes: integer(),
    width: integer(),
    height: integer(),
    src: text(),
    broken: jsonb().$type<Message>(),
    /** Why Detto did not look at it. */
    unread: jsonb().$type<Message>(),
    lighter: integer(),
    colours: jsonb().$type<string[]>().notNull().default([]),
    /** Stored file with the thumbnail. */
    thumb: text(),
    /** Version of the analysis that looked at it; 0 when none has. */
    analysisVersion: integer().notNull().default(0),
    /** What kind of picture it is, and how sure that is, from 0 to 1. */
    kind: text().$type<Kind>(),
    kindSure: real().notNull().default(0),
    /** What else the analysis found; kept as text, because it is written and read whole. */
    details: json().$type<PictureDetails>(),
    /** What it is compared with others by. */
    fingerprint: json().$type<Fingerprint>(),
    /** The first of those that are the same but for encoding, and the first of a series of look-alikes. */
    duplicateGroup: integer(),
    similarGroup: integer(),
    similarCount: integer().notNull().default(0),
    /** Place in its series, the largest first, from 1; 0 for one that stands alone. */
    similarRank: integer().notNull().default(0),
    /** Version of the reading of text and things in it; 0 when it was not read. */
    recognitionVersion: integer().notNull().default(0),
    /** Recognised text, line by line, and what share of the picture it covers. */
    recognisedText: text(),
    textShare: real().notNull().default(0),
    /** Text and things with their boxes. */
    recognition: json().$type<Recognition>(),
    /** Words that the file itself carries, and in which field. */
    fileWords: text(),
    fileWordsFrom: text(),
    rights: json().$type<Rights>(),
    /** Credit, licence and source page, as a person recorded them. */
    credit: json().$type<Credit>(),
    /** The accepted long description, in CommonMark; `''` takes a delivered one away, null for none. */
    longDescription: text(),
    /** Where it is to stand; null where nobody has chosen. */
    longPlacement: jsonb().$type<Placement>(),
    /** What its file is to be called; null where its name stands. */
    fileName: text(),
    /** Its rank in the order of work, the greatest first, and why. */
    urgency: real().notNull().default(0),
    urgencyReason: jsonb().$type<Message>(),
    // What lists are drawn and sorted by, kept current by the audit.
    reach: integer().notNull().default(0),
    appearances: integer().notNull().default(0),
    described: integer().notNull().default(0),
    decorative: integer().notNull().default(0),
    missing: integer().notNull().default(0),
    drafts: integer().notNull().default(0),
    /** 0 fails, 1 look, 2 polish, 3 nothing found. */
    worst: integer().notNull().default(3),
    rules: text()
      .array()
      .notNull()
      .default(sql`'{}'::text[]`),
    length: integer().notNull().default(0),
    search: text().notNull().default(''),
    // What lists are filtered by: of its appearances, each value once.
    purposes: texts(),
    /** First parts of the addresses of its pages. */
    sections: texts(),
    languages: texts(),
    /** Who wrote what is heard: `page`, `person`, `drafter`. */
    writers: texts(),
    /** Host of its file; empty for one that is not on the web. */
    host: text().notNull().default(''),
    /** The greatest width that it is shown at, in CSS pixels; null where no page says. */
    shownWidth: integer(),
    /** The survey that found it first, and the last one in which one of its pages had changed. */
    firstSurveyId: integer().notNull().default(0),
    changedSurveyId: integer().notNull().default(0),
  },
  (t) => [
    uniqueIndex().on(t.collectionId, t.key),
    index().on(t.collectionId, t.reach.desc(), t.id),
    index('picture_weight_index').on(t.collectionId, sql`coalesce(${t.bytes}, 0) desc nulls last`, t.id),
    index().on(t.collectionId, t.length.desc(), t.id),
    index().on(t.collectionId, t.urgency.desc(), t.id),
    index().on(t.collectionId, t.similarGroup),
    index().on(t.sha256),
    index().on(t.thumb),
    index().using('gin', t.rules),
    // What waits for delivery of its own, which is little among very many.
    index('picture_texts_index')
      .on(t.collectionId)
      .where(sql`long_description is not null or file_name is not null`),
  ],
);

/** Where a picture was found: one picture may have many addresses. */
export const pictureSource = pgTable(
  'picture_source',
  {
    collectionId: text()
      .notNull()
      .references(() => collection.id, { onDelete: 'cascade' }),
    address: text().notNull(),
    pictureId: integer()
      .notNull()
      .references(() => picture.id, { onDelete: 'cascade' }),
    etag: text(),
    lastModified: text(),
  },
  (t) => [primaryKey({ columns: [t.collectionId, t.address] }), index().on(t.pictureId)],
);

/** One use of a picture at one place of one page. */
export const appearance = pgTable(
  'appearance',
  {
    id: id(),
    collectionId: text()
      .notNull()
      .references(() => collection.id, { onDelete: 'cascade' }),
    pageId: integer()
      .notNull()
      .references(() => page.id, { onDelete: 'cascade' }),
    pictureId: integer()
      .notNull()
      .references(() => picture.id, { onDelete: 'cascade' }),
    /** Page, picture, template place and rank there: the same from survey to survey. */
    identity: text().notNull(),
    /** `Appearance.order` in the page as surveyed. */
    position: integer().notNull(),
    /** As the page says it; kept as text, because it is written and read whole. */
    reading: json().$type<Appearance>().notNull(),
    /** As it will be heard once the accepted wording is in the page. */
    state: text({ enum: ['described', 'decorative', 'missing'] }).notNull(),
    wordsKey: text(),
    /** Template place, as in the reading: what roll-ups are counted by. */
    place: text().notNull().default(''),
    // Of its reading, what is asked of very many at once: JSON is parsed again for each field that is asked of it.
    /** Accessible name, as the page says it. */
    name: text(),
    region: text().$type<Region>(),
    lang: text(),
    /** CSS pixels, and square ones. */
    shownWidth: integer(),
    area: real(),
    /** See `isSideBySide` in `core/model/appearance.ts`. */
    isSideBySide: boolean().notNull().default(false),
    /** Path of the page that its link, or that of its card, leads to, whether that was surveyed or not. */
    target: text(),
    /** That page shows it larger. */
    isThumbnail: boolean().notNull().default(false),
    purpose: text().notNull(),
    purposeSettled: boolean().notNull().default(false),
    /** From 0 to 1, of the proposal. */
    purposeSure: real().notNull().default(0.5),
    evidence: jsonb().$type<Message[]>().notNull(),
    /** The accepted text that differs from the page; `''` for silence, null when the page stands. */
    words: text(),
    /** The same for its title and its caption. */
    title: text(),
    caption: text(),
    /** The credit line of the picture is to stand below it, or not any more; null when the page stands. */
    creditLine: boolean(),
    /** An editor keeps its words out of the delivery for now. */
    leftOut: boolean().notNull().default(false),
    /** `collection.revision` when its words were last changed. */
    version: integer().notNull().default(0),
    surveyId: integer().notNull(),
    gone: boolean().notNull().default(false),
  },
  (t) => [
    uniqueIndex().on(t.collectionId, t.identity),
    index().on(t.pictureId),
    index().on(t.pageId, t.position),
    // A text may be longer than an entry of an index: it is asked for by its hash.
    index('appearance_words_index').on(t.collectionId, sql`md5(${t.wordsKey})`),
    // What waits for delivery, which is little among very many.
    index('appearance_worded_index')
      .on(t.collectionId)
      .where(sql`words is not null or title is not null or caption is not null or credit_line is not null`),
  ],
);

/** What somebody looks for again and again in the Galley, under a name. */
export const savedView = pgTable(
  'saved_view',
  {
    id: id(),
    collectionId: text()
      .notNull()
      .references(() => collection.id, { onDelete: 'cascade' }),
    name: text().notNull(),
    /** The query of its address. */
    query: text().notNull(),
    at: now(),
  },
  (t) => [uniqueIndex().on(t.collectionId, t.name)],
);
