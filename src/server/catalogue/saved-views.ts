import { and, asc, eq } from 'drizzle-orm';
import type { SavedView } from '@/contract/galley';
import { database } from '../db/database';
import { savedView } from '../db/schema';

const COLUMNS = { id: savedView.id, name: savedView.name, query: savedView.query };

/** The views that were saved in a collection, by name. */
export async function savedViews(collectionId: string): Promise<SavedView[]> {
  const db = await database();
  return db
    .select(COLUMNS)
    .from(savedView)
    .where(eq(savedView.collectionId, collectionId))
    .orderBy(asc(savedView.name));
}

/** Saves a view under a name, in place of one that has it. */
export async function saveView(collectionId: string, name: string, query: string): Promise<SavedView> {
  const db = await database();
  const [saved] = await db
    .insert(savedView)
    .values({ collectionId, name, query })
    .onConflictDoUpdate({ target: [savedView.collectionId, savedView.name], set: { query } })
    .returning(COLUMNS);
  return saved!;
}

/** @returns false where there is no such view */
export async function deleteView(collectionId: string, id: number): Promise<boolean> {
  const db = await database();
  const gone = await db
    .delete(savedView)
    .where(and(eq(savedView.collectionId, collectionId), eq(savedView.id, id)))
    .returning({ id: savedView.id });
  return gone.length > 0;
}
