import { and, eq, inArray, isNull, sql } from 'drizzle-orm';
import { pageText, type PlaceField } from '@/core/model/texts';
import { saysCredit } from '@/core/model/says-credit';
import { creditFrom, creditLine } from '@/core/model/credit';
import type { Appearance } from '@/core/model/appearance';
import { writtenWords } from '@/core/model/wording';
import { insertRows } from '../db/bulk';
import type { Queryable } from '../db/database';
import { appearance, conflict, fieldText, picture, wording } from '../db/schema';

/** An appearance as the survey before left it. */
export interface AppearanceBefore {
  /** The accepted text that waits for delivery; null when the page stands. */
  words: string | null;
  /** The same for its title, its caption and its credit line. */
  title: string | null;
  caption: string | null;
  creditLine: boolean | null;
  /** What the page said there, where one of them waits. */
  saidTitle: string;
  saidCaption: string;
  /** The credit line of its picture, where that waits. */
  credit: string;
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
      title: appearance.title,
      caption: appearance.caption,
      creditLine: appearance.creditLine,
      saidTitle: sql<string>`coalesce(${appearance.reading}->'markup'->>'title', '')`,
      saidCaption: sql<string>`coalesce(${appearance.reading}->'context'->>'caption', '')`,
      credit: sql<
        typeof picture.$inferSelect.credit
      >`case when ${appearance.creditLine} is not null then ${picture.credit} end`,
      rights: sql<
        typeof picture.$inferSelect.rights
      >`case when ${appearance.creditLine} is not null then ${picture.rights} end`,
      purpose: appearance.purpose,
      settled: appearance.purposeSettled,
      // Read only where it is of interest: it is the largest part of a row.
      reading: sql<typeof appearance.$inferSelect.reading | null>`case when ${worded} then ${appearance.reading} end`,
    })
    .from(appearance)
    .innerJoin(picture, eq(picture.id, appearance.pictureId))
    .where(inArray(appearance.pageId, pageIds));
  return new Map(
    known.map(({ identity, reading, credit, rights, ...row }) => [
      identity,
      {
        ...row,
        credit: creditLine(creditFrom(credit, rights)),
        worded: reading !== null,
        said: reading ? writtenWords(reading) : null,
      },
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

/** Texts other than its alt text that wait at an appearance after its page was read again. */
export interface StillWaiting {
  title: string | null;
  caption: string | null;
  creditLine: boolean | null;
  /** Those that were given up, because the page was given another text meanwhile. */
  replaced: PlaceField[];
}

/** What still waits: what the page says by now needs no delivery, and what it was given meanwhile stands. */
export function stillWaiting(earlier: AppearanceBefore | undefined, now: Appearance): StillWaiting {
  const out: StillWaiting = { title: null, caption: null, creditLine: null, replaced: [] };
  if (!earlier) return out;
  const said = { title: earlier.saidTitle, caption: earlier.saidCaption };
  for (const field of ['title', 'caption'] as const) {
    const ours = earlier[field];
    if (ours === null || ours === pageText(now, field)) continue;
    if (pageText(now, field) === said[field]) out[field] = ours;
    else out.replaced.push(field);
  }
  if (earlier.creditLine !== null && earlier.creditLine !== saysCredit(now, earlier.credit))
    out.creditLine = earlier.creditLine;
  return out;
}

/** Fields of an appearance in which its page was given another text than the one that waited. */
export interface Replaced {
  identity: string;
  fields: readonly PlaceField[];
}

/** Keeps in the history that pages were given other titles or captions than those that waited there. */
export async function keepReplaced(
  tx: Queryable,
  collectionId: string,
  surveyId: number,
  replaced: readonly Replaced[],
): Promise<void> {
  if (replaced.length === 0) return;
  const fieldsOf = new Map(replaced.map((r) => [r.identity, r.fields]));
  const rows = await tx
    .select({ id: appearance.id, pictureId: appearance.pictureId, identity: appearance.identity })
    .from(appearance)
    .where(and(eq(appearance.collectionId, collectionId), inArray(appearance.identity, [...fieldsOf.keys()])));
  await insertRows(
    tx,
    fieldText,
    rows.flatMap(({ id, pictureId, identity }) =>
      fieldsOf.get(identity)!.map((field) => ({
        ...{ collectionId, field, pictureId, appearanceId: id, text: null },
        ...{ by: 'page' as const, state: 'accepted' as const, act: `survey ${surveyId}` },
      })),
    ),
  );
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
