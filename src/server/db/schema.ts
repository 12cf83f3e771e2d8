// All tables in one file, however long: they refer to one another, and migrations are drawn from the file as a whole.
import { sql } from 'drizzle-orm';
import {
  bigint,
  boolean,
  doublePrecision,
  index,
  integer,
  json,
  jsonb,
  pgTable,
  primaryKey,
  real,
  text,
  timestamp,
  uniqueIndex,
} from 'drizzle-orm/pg-core';
import type { Brief } from '@/contract/brief';
import type { StoredWork } from '@/contract/bulk';
import { DELIVERY_STATES, type DeliveryPage } from '@/contract/delivery';
import { ROUND_STATES, type DraftingPlan, type DraftRecord, type RoundOrder } from '@/contract/drafting';
import type { Scope } from '@/contract/scope';
import type { Cause, SurveySummary } from '@/contract/survey';
import type { Appearance } from '@/core/model/appearance';
import { FORMAT_IDS, type FrontMatterKeys } from '@/core/model/document';
import type { Message } from '@/core/model/message';
import { TEXT_FIELDS, type Placement } from '@/core/model/texts';
import type { PagePicture } from '@/core/model/page';
import type { RuleStyle } from '@/core/audit';
import type { Fix, SubsumedFinding } from '@/core/model/finding';
import type { Credit } from '@/core/picture/credit';
import type { Recognition } from '@/core/picture/recognised';
import type { Fingerprint } from '@/core/picture/fingerprint';
import type { Kind, Rights } from '@/core/model/picture-analysis';
import type { PictureDetails } from '@/core/picture/details';
import type { Phrase } from '@/core/words/phrases';

const id = () => integer().primaryKey().generatedAlwaysAsIdentity();
const texts = () =>
  text()
    .array()
    .notNull()
    .default(sql`'{}'::text[]`);
const now = () => timestamp({ withTimezone: true }).notNull().defaultNow();

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

/** Where bytes are kept that pages, pictures and thumbnails are made of: by their SHA-256, in packs. */
export const file = pgTable('file', {
  sha256: text().primaryKey(),
  pack: integer().notNull(),
  /** Bytes from the beginning of the pack. */
  start: integer().notNull(),
  length: integer().notNull(),
});

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
    /** SHA-256 of what was there, and of what is there now; null before where nothing was. */
    hashBefore: text(),
    hashAfter: text().notNull(),
    at: now(),
  },
  (t) => [primaryKey({ columns: [t.deliveryId, t.path] })],
);

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
