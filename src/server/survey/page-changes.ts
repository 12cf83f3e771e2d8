import { and, eq, inArray, isNull, sql } from 'drizzle-orm';
import { writtenWords } from '@/core/model/wording';
import { insertRows } from '../db/bulk';
import type { Queryable } from '../db/database';
import { appearance, conflict, wording } from '../db/schema';

/** An appearance as the survey before left it. */
export interface AppearanceBefore {
  /** The accepted text that waits for delivery; null when the page stands. */
  words: string | null;
  purpose: string;
  settled: boolean;
  /** Somebody has worded it at some time; `said` is what the page said then. */
  worded: boolean;
  said: string | null;
}

/** A page says something else than before at a place that somebody has worded here. */
export interface PageChange {
  identity: string;
  before: string | null;
  now: string | null;
  /** What waits for delivery; null when nothing does. */
  ours: string | null;
}

/** Appearances of pages that are read again, by identity. */
export async function appearancesBefore(tx: Queryable, pageIds: number[]): Promise<Map<string, AppearanceBefore>> {
  if (pageIds.length === 0) return new Map();
  const worded = sql`(${appearance.words} is not null or exists (select 1 from ${wording} w
    where w.appearance_id = ${appearance.id} and w.state = 'accepted'))`;
  const known = await tx
    .select({
      identity: appearance.identity,
      words: appearance.words,
      purpose: appearance.purpose,
      settled: appearance.purposeSettled,
      // Read only where it is of interest: it is the largest part of a row.
      reading: sql<typeof appearance.$inferSelect.reading | null>`case when ${worded} then ${appearance.reading} end`,
    })
    .from(appearance)
    .where(inArray(appearance.pageId, pageIds));
  return new Map(
    known.map(({ identity, reading, ...row }) => [
      identity,
      { ...row, worded: reading !== null, said: reading ? writtenWords(reading) : null },
    ]),
  );
}

/** What a page changed at a place that somebody has worded; null when it says the same, or nobody has. */
export function pageChange(
  identity: string,
  { words, worded, said }: AppearanceBefore,
  now: string | null,
): PageChange | null {
  return worded && said !== now ? { identity, before: said, now, ours: words } : null;
}

/**
 * Keeps what the pages changed. Where a text of ours waits for delivery it is a conflict, unless the page says it by now;
 * where ours was live already, the page counts from now on, whatever is undone later.
 */
export async function keepPageChanges(
  tx: Queryable,
  collectionId: string,
  surveyId: number,
  changes: readonly PageChange[],
): Promise<void> {
  if (changes.length === 0) return;
  const rows = await tx
    .select({ id: appearance.id, identity: appearance.identity })
    .from(appearance)
    .where(
      and(
        eq(appearance.collectionId, collectionId),
        inArray(
          appearance.identity,
          changes.map((c) => c.identity),
        ),
      ),
    );
  const idOf = new Map(rows.map((r) => [r.identity, r.id]));
  const waiting = changes.filter((c) => c.ours !== null);
  const conflicts = waiting.filter((c) => c.ours !== c.now);
  await insertRows(
    tx,
    conflict,
    conflicts.map(({ identity, before, now, ours }) => ({
      collectionId,
      appearanceId: idOf.get(identity)!,
      kind: 'page' as const,
      first: before,
      theirs: now,
      ours,
    })),
    sql`on conflict (appearance_id) where settled_at is null
      do update set kind = 'page', theirs = excluded.theirs, ours = excluded.ours, first = coalesce(conflict.first, excluded.first)`,
  );
  // The page says ours by now, or again what it said when it was worded.
  await tx
    .update(conflict)
    .set({ settledAt: sql`now()`, choice: 'ours' })
    .where(
      and(
        eq(conflict.kind, 'page'),
        isNull(conflict.settledAt),
        inArray(
          conflict.appearanceId,
          waiting.map((c) => idOf.get(c.identity)!),
        ),
        sql`(${conflict.first} is not distinct from ${conflict.theirs} or ${conflict.appearanceId} in
          (select id from ${appearance} where words is null))`,
      ),
    );
  await insertRows(
    tx,
    wording,
    changes
      .filter((c) => c.ours === null)
      .map(({ identity }) => ({
        collectionId,
        appearanceId: idOf.get(identity)!,
        text: null,
        by: 'page' as const,
        state: 'accepted' as const,
        act: `survey ${surveyId}`,
      })),
  );
}
