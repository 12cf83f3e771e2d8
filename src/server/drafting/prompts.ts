import { desc, eq, sql } from 'drizzle-orm';
import { DEFAULT_INSTRUCTIONS, PROMPT_VERSION } from '@/core/draft/prompt';
import { database, type Queryable } from '../db/database';
import { draftPrompt } from '../db/schema';

/** The instructions for models that the editors of a collection wrote, and the version that is kept with drafts. */
export interface Instructions {
  /** 0 where they never changed it. */
  version: number;
  instructions: string;
  /** As kept with drafts: Detto's own version, and theirs. */
  label: string;
}

export async function instructionsOf(tx: Queryable, collectionId: string): Promise<Instructions> {
  const [row] = await tx
    .select()
    .from(draftPrompt)
    .where(eq(draftPrompt.collectionId, collectionId))
    .orderBy(desc(draftPrompt.version))
    .limit(1);
  const version = row?.version ?? 0;
  return {
    version,
    instructions: row?.instructions ?? DEFAULT_INSTRUCTIONS,
    label: `${PROMPT_VERSION}.${version}`,
  };
}

/** Keeps instructions as a new version; drafts made so far keep the one they were made with. */
export async function saveInstructions(collectionId: string, instructions: string): Promise<Instructions> {
  const db = await database();
  const before = await instructionsOf(db, collectionId);
  if (before.instructions === instructions) return before;
  await db.insert(draftPrompt).values({
    collectionId,
    version: sql`(select coalesce(max(p.version), 0) + 1 from ${draftPrompt} p where p.collection_id = ${collectionId})`,
    instructions,
  });
  return instructionsOf(db, collectionId);
}

/** All versions that a collection had, the latest first. */
export async function instructionsHistory(
  collectionId: string,
): Promise<{ version: number; instructions: string; at: string }[]> {
  const db = await database();
  const rows = await db
    .select()
    .from(draftPrompt)
    .where(eq(draftPrompt.collectionId, collectionId))
    .orderBy(desc(draftPrompt.version));
  return rows.map(({ version, instructions, at }) => ({ version, instructions, at: at.toISOString() }));
}
