import { and, asc, eq, inArray, isNull, sql } from 'drizzle-orm';
import type { Conflict } from '@/contract/conflict';
import type { Appearance } from '@/core/model/appearance';
import { groupBy } from '@/core/group-by';
import { writtenWords } from '@/core/model/wording';
import { ownTitle } from '@/core/words/page-title';
import { among, insertRows } from '../db/bulk';
import type { Queryable } from '../db/database';
import { appearance, conflict, page, picture, wording } from '../db/schema';
import { nameOf } from '../catalogue/lines';
import { thumbOf } from '../catalogue/picture-rows';
import { closeWordings } from './history';

/** A place whose words somebody else has changed since. */
interface Clash {
  id: number;
  first: string | null;
  theirs: string | null;
}

interface Row {
  id: number;
  version: number;
  words: string | null;
  /** Null where its words are those that were seen. */
  reading: Appearance | null;
}

/** The places among rows that have other words by now than those which the text was written from. */
export async function clashes(
  tx: Queryable,
  { text, act, since, after = [] }: { text: string | null; act: string; since?: number; after?: readonly string[] },
  rows: readonly Row[],
): Promise<Clash[]> {
  if (since === undefined) return [];
  const late = rows.filter((r) => r.version > since);
  if (late.length === 0) return [];
  // What was written under the same act, or under one that the writer names, is the writer's own.
  const own = await tx
    .select({ id: wording.appearanceId })
    .from(wording)
    .where(
      and(
        among(
          wording.appearanceId,
          late.map((r) => r.id),
        ),
        inArray(wording.act, [act, ...after]),
        eq(wording.state, 'accepted'),
        sql`not exists (select 1 from ${wording} later where later.appearance_id = ${wording.appearanceId}
          and later.state = 'accepted' and later.id > ${wording.id})`,
      ),
    );
  const mine = new Set(own.map((o) => o.id));
  return late.flatMap(({ id, reading, words }) => {
    const first = writtenWords(reading!);
    const theirs = words ?? first;
    return mine.has(id) || theirs === (text ?? first) ? [] : [{ id, first, theirs }];
  });
}

/** Keeps both texts: ours in the history, where it waits, and theirs as it stands. */
export async function saveConflicts(
  tx: Queryable,
  { collectionId, text, act, by }: { collectionId: string; text: string | null; act: string; by: 'person' | 'drafter' },
  found: readonly Clash[],
): Promise<void> {
  if (found.length === 0) return;
  const ids = found.map((c) => c.id);
  const known = await tx
    .update(wording)
    .set({ text, state: 'conflict', at: new Date() })
    .where(and(among(wording.appearanceId, ids), eq(wording.act, act)))
    .returning({ id: wording.appearanceId });
  const there = new Set(known.map((k) => k.id));
  await insertRows(
    tx,
    wording,
    ids
      .filter((id) => !there.has(id))
      .map((appearanceId) => ({ collectionId, appearanceId, text, by, act, state: 'conflict' as const })),
  );
  await insertRows(
    tx,
    conflict,
    found.map(({ id, first, theirs }) => ({
      collectionId,
      appearanceId: id,
      kind: 'edit' as const,
      first,
      theirs,
      ours: text,
      act,
    })),
    sql`on conflict (appearance_id) where settled_at is null
      do update set theirs = excluded.theirs, ours = excluded.ours, act = excluded.act, kind = excluded.kind`,
  );
}

/** Somebody who saw the state of things has written: that settles what was open at these places. */
export async function settleConflicts(
  tx: Queryable,
  ids: readonly number[],
  text: string | null,
  act: string,
): Promise<void> {
  const settled = await tx
    .update(conflict)
    .set({
      settledAt: sql`now()`,
      chosenAct: act,
      choice: sql`case when ours is not distinct from ${text}::text then 'ours'
        when theirs is not distinct from ${text}::text then 'theirs' else 'other' end`,
    })
    .where(and(among(conflict.appearanceId, ids), isNull(conflict.settledAt)))
    .returning({ id: conflict.appearanceId });
  if (settled.length === 0) return;
  const places = settled.map((s) => s.id);
  await closeWordings(tx, and(among(wording.appearanceId, places), eq(wording.state, 'conflict'))!, act);
}

/**
 * Settles a conflict, at all places of its picture where the same two texts wait.
 *
 * @returns its appearances, whose words have to be applied; none when it is not open
 */
export async function settleConflict(
  tx: Queryable,
  collectionId: string,
  id: number,
  choice: 'ours' | 'theirs' | { text: string },
  act: string,
): Promise<number[]> {
  const alike = sql`(select k.id from ${conflict} k join ${appearance} a on a.id = k.appearance_id,
    ${conflict} c join ${appearance} b on b.id = c.appearance_id
    where c.id = ${id} and c.settled_at is null and a.picture_id = b.picture_id and k.kind = c.kind
      and (k.first, k.theirs, k.ours) is not distinct from (c.first, c.theirs, c.ours))`;
  const open = await tx
    .update(conflict)
    .set({ settledAt: sql`now()`, choice: typeof choice === 'string' ? choice : 'other', chosenAct: act })
    .where(and(sql`${conflict.id} in ${alike}`, eq(conflict.collectionId, collectionId), isNull(conflict.settledAt)))
    .returning();
  const [one] = open;
  if (!one) return [];
  const ids = open.map((o) => o.appearanceId);
  await closeWordings(tx, and(among(wording.appearanceId, ids), eq(wording.state, 'conflict'))!, act);
  // Theirs stands already where somebody else saved it; a page's own counts again when ours is given back.
  if (choice !== 'theirs' || one.kind === 'page')
    await insertRows(
      tx,
      wording,
      ids.map((appearanceId) => ({
        collectionId,
        appearanceId,
        text: typeof choice === 'object' ? choice.text : choice === 'ours' ? one.ours : null,
        by: 'person' as const,
        act,
        state: 'accepted' as const,
      })),
    );
  return ids;
}

/** Opens again what was chosen under an act that is undone. */
export async function reopenConflicts(tx: Queryable, collectionId: string, act: string): Promise<void> {
  await tx
    .update(conflict)
    .set({ settledAt: null })
    .where(
      and(
        eq(conflict.collectionId, collectionId),
        eq(conflict.chosenAct, act),
        sql`not exists (select 1 from ${conflict} other where other.appearance_id = ${conflict.appearanceId}
          and other.settled_at is null)`,
      ),
    );
  // Whoever takes back a text that waits has no conflict any more.
  await tx
    .update(conflict)
    .set({ settledAt: sql`now()`, choice: 'theirs' })
    .where(
      and(
        eq(conflict.collectionId, collectionId),
        eq(conflict.kind, 'edit'),
        eq(conflict.act, act),
        isNull(conflict.settledAt),
      ),
    );
}

/** Settles again what was settled under an act that was undone and is done again. */
export async function resettleConflicts(tx: Queryable, collectionId: string, act: string): Promise<void> {
  await tx
    .update(conflict)
    .set({ settledAt: sql`now()` })
    .where(and(eq(conflict.collectionId, collectionId), eq(conflict.chosenAct, act), isNull(conflict.settledAt)));
}

/** Where nothing of ours waits for delivery any more, a changed page is no conflict. */
export async function closeWithoutWords(tx: Queryable, ids: readonly number[]): Promise<void> {
  await tx
    .update(conflict)
    .set({ settledAt: sql`now()`, choice: 'theirs' })
    .where(
      and(
        among(conflict.appearanceId, ids),
        eq(conflict.kind, 'page'),
        isNull(conflict.settledAt),
        sql`(select words from ${appearance} where ${appearance.id} = ${conflict.appearanceId}) is null`,
      ),
    );
}

/**
 * What waits for somebody to choose, the oldest first; the same two texts of one picture once.
 *
 * @param appearanceIds only at these; everywhere when not given
 * @param limit how many at most
 */
export async function openConflicts(
  db: Queryable,
  collectionId: string,
  appearanceIds?: readonly number[],
  limit = 200,
): Promise<Conflict[]> {
  if (appearanceIds?.length === 0) return [];
  const rows = await db
    .select({ conflict, reading: appearance.reading, picture, title: page.title, path: page.path, lang: page.lang })
    .from(conflict)
    .innerJoin(appearance, eq(appearance.id, conflict.appearanceId))
    .innerJoin(picture, eq(picture.id, appearance.pictureId))
    .innerJoin(page, eq(page.id, appearance.pageId))
    .where(
      and(
        eq(conflict.collectionId, collectionId),
        isNull(conflict.settledAt),
        eq(appearance.gone, false),
        ...(appearanceIds ? [inArray(conflict.appearanceId, [...appearanceIds])] : []),
      ),
    )
    .orderBy(asc(conflict.id))
    .limit(limit);
  const alike = groupBy(rows, ({ conflict: c, picture: p }) =>
    JSON.stringify([p.id, c.kind, c.first, c.theirs, c.ours]),
  );
  return [...alike.values()].map((group) => {
    const { conflict: c, reading, picture: p, title, path, lang } = group[0]!;
    return {
      id: c.id,
      places: group.length,
      appearanceId: c.appearanceId,
      pictureId: p.id,
      picture: nameOf(p, reading),
      thumb: thumbOf(p),
      page: ownTitle(title) || path,
      kind: c.kind,
      first: c.first,
      theirs: c.theirs,
      ours: c.ours,
      lang: reading.context.lang ?? lang,
      at: c.at.toISOString(),
    };
  });
}
