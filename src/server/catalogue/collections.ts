import { randomBytes } from 'node:crypto';
import { promises as fs } from 'node:fs';
import path from 'node:path';
import { and, desc, eq, isNull, sql } from 'drizzle-orm';
import type { Counts } from '@/contract/galley';
import type { Scope } from '@/contract/scope';
import { isAnalysing } from '../jobs/progress';
import { config } from '../config';
import { database } from '../db/database';
import { collectionState } from './collection-state';
import { countWaiting } from './waiting';
import { appearance, collection, conflict, page, picture, survey } from '../db/schema';
import { countOf } from './states';

export type Collection = typeof collection.$inferSelect;

export interface ShelfLine {
  id: string;
  name: string;
  kind: Collection['kind'];
  root: string;
  pages: number;
  pictures: number;
  described: number;
  decorative: number;
  missing: number;
  /** Nothing is unsaid, yet a rule found something to fail or to look at. */
  doubtful: number;
  survey: Pick<typeof survey.$inferSelect, 'id' | 'state' | 'startedAt' | 'message'> | null;
  /** Its pictures are being looked at. */
  isAnalysing: boolean;
}

export interface NewCollection {
  name: string;
  kind: Collection['kind'];
  root: string;
  maxPages: number;
  maxDepth: number;
  scope?: Partial<Scope>;
  /** Sealed. */
  access?: string | null;
}

export async function insertCollection(wanted: NewCollection): Promise<Collection> {
  const db = await database();
  const slug =
    wanted.name
      .normalize('NFKD')
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, '')
      .slice(0, 40) || 'collection';
  const [taken] = await db.select({ id: collection.id }).from(collection).where(eq(collection.id, slug));
  const id = taken ? `${slug}-${randomBytes(3).toString('hex')}` : slug;
  const [added] = await db
    .insert(collection)
    .values({ id, ...wanted })
    .returning();
  return added!;
}

export async function collectionById(id: string): Promise<Collection | null> {
  const db = await database();
  const [found] = await db.select().from(collection).where(eq(collection.id, id));
  return found ?? null;
}

/** Gives a collection another name; its address stays. */
export async function renameCollection(id: string, name: string): Promise<void> {
  const db = await database();
  await db.update(collection).set({ name }).where(eq(collection.id, id));
}

/** Removes a collection with all its words, and the files that were dropped for it. */
export async function removeCollection(id: string): Promise<void> {
  const db = await database();
  const found = await collectionById(id);
  await db.delete(collection).where(eq(collection.id, id));
  const dropped = path.join(config().dataDir, 'dropped');
  if (found && (found.kind === 'zip' || found.kind === 'upload') && found.root.startsWith(dropped + path.sep))
    await fs.rm(found.root, { recursive: true, force: true });
}

export async function shelf(): Promise<ShelfLine[]> {
  const db = await database();
  const rows = await db.select().from(collection).orderBy(desc(collection.createdAt));
  return Promise.all(rows.map(shelfLine));
}

/** Counts for one collection; pictures by the worst of their appearances. */
export async function shelfLine(row: Collection): Promise<ShelfLine> {
  const db = await database();
  const [pictures] = await db
    .select({
      all: sql`count(*)`.mapWith(Number),
      missing: countOf('missing'),
      doubtful: countOf('doubtful'),
      decorative: countOf('decorative'),
      described: countOf('described'),
    })
    .from(picture)
    .where(and(eq(picture.collectionId, row.id), sql`${picture.appearances} > 0`));
  const [pages] = await db
    .select({ all: sql`count(*)`.mapWith(Number) })
    .from(page)
    .where(and(eq(page.collectionId, row.id), eq(page.gone, false)));
  const [last] = await db
    .select({ id: survey.id, state: survey.state, startedAt: survey.startedAt, message: survey.message })
    .from(survey)
    .where(eq(survey.collectionId, row.id))
    .orderBy(desc(survey.id))
    .limit(1);
  const { all, missing, doubtful, decorative, described } = pictures!;
  return {
    id: row.id,
    name: row.name,
    kind: row.kind,
    root: row.root,
    pages: pages!.all,
    pictures: all,
    described,
    decorative,
    missing,
    doubtful,
    survey: last ?? null,
    isAnalysing: await isAnalysing(row.id),
  };
}

/** One for the process, across the bundles that Next makes of the server. */
const shared = globalThis as typeof globalThis & { dettoCounts?: Map<string, { key: string; counts: Counts }> };
const counted = (shared.dettoCounts ??= new Map());

/** What the spine and the head of the Galley count of a collection; counted again only when something has changed. */
export async function countsOf(collectionId: string): Promise<Counts> {
  const state = await collectionState(collectionId);
  const known = counted.get(collectionId);
  if (state?.isQuiet && known?.key === state.key) return known.counts;
  const counts = { ...(await count(collectionId)), revision: state?.revision ?? 0 };
  if (state?.isQuiet) counted.set(collectionId, { key: state.key, counts });
  else counted.delete(collectionId);
  return counts;
}

async function count(collectionId: string): Promise<Omit<Counts, 'revision'>> {
  const db = await database();
  const [pictures] = await db
    .select({
      pictures: sql`count(*)`.mapWith(Number),
      appearances: sql`coalesce(sum(appearances), 0)`.mapWith(Number),
      todo: countOf('todo'),
      drafts: sql`coalesce(sum(${picture.drafts}), 0)`.mapWith(Number),
    })
    .from(picture)
    .where(and(eq(picture.collectionId, collectionId), sql`${picture.appearances} > 0`));
  const [pages] = await db
    .select({ pages: sql`count(*)`.mapWith(Number) })
    .from(page)
    .where(and(eq(page.collectionId, collectionId), eq(page.gone, false)));
  const [open] = await db
    .select({ conflicts: sql`count(*)`.mapWith(Number) })
    .from(conflict)
    .innerJoin(appearance, eq(appearance.id, conflict.appearanceId))
    .where(and(eq(conflict.collectionId, collectionId), isNull(conflict.settledAt), eq(appearance.gone, false)));
  return {
    ...pictures!,
    ...pages!,
    delivery: await countWaiting(db, collectionId),
    ...open!,
  };
}

/** The last survey of a collection, however it ended. */
export async function lastSurveyOf(collectionId: string) {
  const db = await database();
  const [last] = await db
    .select({ state: survey.state, startedAt: survey.startedAt })
    .from(survey)
    .where(eq(survey.collectionId, collectionId))
    .orderBy(desc(survey.id))
    .limit(1);
  return last ?? null;
}
