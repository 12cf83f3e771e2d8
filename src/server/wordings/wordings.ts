import { and, eq, inArray, notInArray, sql } from 'drizzle-orm';
import type { Conflict } from '@/contract/conflict';
import type { Appearance } from '@/core/model/appearance';
import { wordsGroup } from '@/core/audit';
import { withWords, writtenWords } from '@/core/model/wording';
import { auditChanged } from '../audit/audit-changes';
import { enqueuePhrases, transactionWithJobs } from '../jobs/queue';
import { refreshPictures } from '../audit/picture-counts';
import { restoreFindings } from '../audit/ignored';
import type { Queryable } from '../db/database';
import { appearance, collection, conflict, picture, wording } from '../db/schema';
import {
  clashes,
  closeWithoutWords,
  saveConflicts,
  openConflicts,
  reopenConflicts,
  settleConflict,
  settleConflicts,
} from './conflicts';
import { undoLongDescription } from './long-description';

export interface Kept {
  collectionId: string;
  appearanceIds: readonly number[];
  /** `''` for silence; null gives back what the page says. */
  text: string | null;
  /** What is done at one stroke; keeping again under the same act replaces what it kept. */
  act: string;
  by: 'person' | 'drafter';
  /** `collection.revision` that the text was written from; without it, nothing is checked against. */
  since?: number;
}

export interface KeepAnswer {
  /** Places that have the words now. */
  places: number;
  /** Those that somebody else has worded meanwhile; their words stay until somebody chooses. */
  conflicts: Conflict[];
  /** What the next text may say it was written from. */
  revision: number;
}

/**
 * Keeps a wording for appearances, and brings states and findings up to date. Under one act the latest call counts:
 * appearances that it leaves out get back what they had before the act. Where somebody else has saved other words since
 * the state that the text was written from, both are kept and it is a conflict.
 */
export async function saveWords(kept: Kept): Promise<KeepAnswer> {
  const ids = [...new Set(kept.appearanceIds)];
  return transactionWithJobs(async (tx) => {
    const rows = await tx
      .select({
        id: appearance.id,
        version: appearance.version,
        words: appearance.words,
        // Read only where it is of interest: it is the largest part of a row.
        reading: sql<Appearance | null>`case when ${appearance.version} > ${kept.since ?? 2 ** 31 - 1} then ${appearance.reading} end`,
      })
      .from(appearance)
      .where(and(eq(appearance.collectionId, kept.collectionId), inArray(appearance.id, ids)));
    const now = await nextRevision(tx, kept.collectionId);
    const clashing = await clashes(tx, kept, rows);
    const clash = new Set(clashing.map((c) => c.id));
    const known = rows.map((r) => r.id).filter((id) => !clash.has(id));
    await saveConflicts(tx, kept, clashing);
    if (known.length > 0) await keepAt(tx, kept, known, [...clash], now);
    return {
      places: known.length,
      conflicts: await openConflicts(tx, kept.collectionId, [...clash]),
      revision: now.revision,
    };
  });
}

async function keepAt(
  tx: Queryable,
  { collectionId, text, act, by }: Kept,
  known: readonly number[],
  clash: readonly number[],
  now: Revision,
): Promise<void> {
  const replaced = await tx
    .update(wording)
    .set({ text, by, state: 'accepted', at: new Date() })
    .where(and(eq(wording.act, act), eq(wording.collectionId, collectionId), inArray(wording.appearanceId, [...known])))
    .returning({ appearanceId: wording.appearanceId });
  const there = new Set(replaced.map((r) => r.appearanceId));
  const fresh = known.filter((id) => !there.has(id));
  if (fresh.length > 0)
    await tx
      .insert(wording)
      .values(fresh.map((appearanceId) => ({ collectionId, appearanceId, text, by, act, state: 'accepted' as const })));
  const left = await tx
    .update(wording)
    .set({ state: 'undone' })
    .where(
      and(
        eq(wording.act, act),
        eq(wording.collectionId, collectionId),
        eq(wording.state, 'accepted'),
        notInArray(wording.appearanceId, [...known, ...clash]),
      ),
    )
    .returning({ appearanceId: wording.appearanceId });
  // Who writes the words has read the draft.
  await tx
    .update(wording)
    .set({ state: 'rejected' })
    .where(and(inArray(wording.appearanceId, [...known]), eq(wording.state, 'draft')));
  if (now.clashes) await settleConflicts(tx, known, text, act);
  await apply(tx, collectionId, [...known, ...left.map((l) => l.appearanceId)], now);
}

/** The number under which changes of words are kept, and whether texts wait to be chosen from. */
interface Revision {
  revision: number;
  clashes: boolean;
}

/** Raises the number; one transaction after the other gets it. */
async function nextRevision(tx: Queryable, collectionId: string): Promise<Revision> {
  const [row] = await tx
    .update(collection)
    .set({ revision: sql`${collection.revision} + 1` })
    .where(eq(collection.id, collectionId))
    .returning({
      revision: collection.revision,
      clashes: sql<boolean>`exists (select 1 from ${conflict} k where k.collection_id = ${collectionId} and k.settled_at is null)`,
    });
  return row ?? { revision: 0, clashes: false };
}

/** Takes back everything that was done under one act. */
export async function undoAct(collectionId: string, act: string): Promise<number> {
  return transactionWithJobs(async (tx) => {
    const rows = await tx
      .update(wording)
      .set({ state: 'undone' })
      .where(
        and(
          eq(wording.collectionId, collectionId),
          eq(wording.act, act),
          sql`state in ('accepted', 'draft', 'conflict')`,
        ),
      )
      .returning({ appearanceId: wording.appearanceId });
    const ids = [...new Set(rows.map((r) => r.appearanceId))];
    await reopenConflicts(tx, collectionId, act);
    await apply(tx, collectionId, ids, await nextRevision(tx, collectionId));
    return (
      ids.length + (await restoreFindings(tx, collectionId, act)) + (await undoLongDescription(tx, collectionId, act))
    );
  });
}

/** Refuses the drafts that wait at appearances; gives back how many there were. */
export async function rejectDrafts(collectionId: string, ids: readonly number[]): Promise<number> {
  return transactionWithJobs(async (tx) => {
    const rows = await tx
      .update(wording)
      .set({ state: 'rejected' })
      .where(waitingAt(collectionId, ids))
      .returning({ appearanceId: wording.appearanceId });
    if (rows.length === 0) return 0;
    const pictures = tx
      .select({ id: appearance.pictureId })
      .from(appearance)
      .where(
        inArray(
          appearance.id,
          rows.map((r) => r.appearanceId),
        ),
      );
    await refreshPictures(tx, inArray(picture.id, pictures));
    return rows.length;
  });
}

/** Accepts the drafts that wait at appearances, as they stand, under a new act; gives back how many there were. */
export async function acceptDrafts(collectionId: string, ids: readonly number[], act: string): Promise<number> {
  return transactionWithJobs(async (tx) => {
    const rows = await tx
      .update(wording)
      .set({ state: 'accepted', act, at: new Date() })
      .where(waitingAt(collectionId, ids))
      .returning({ appearanceId: wording.appearanceId });
    const taken = rows.map((r) => r.appearanceId);
    await apply(tx, collectionId, taken, await nextRevision(tx, collectionId));
    return rows.length;
  });
}

const waitingAt = (collectionId: string, ids: readonly number[]) =>
  and(eq(wording.collectionId, collectionId), inArray(wording.appearanceId, [...ids]), eq(wording.state, 'draft'));

/** Makes the latest accepted wording of each appearance the one that counts. */
async function apply(
  tx: Queryable,
  collectionId: string,
  ids: readonly number[],
  { revision, clashes: mayClash }: Revision,
): Promise<void> {
  if (ids.length === 0) return;
  const latest = sql<string | null>`(select w.text from wording w
    where w.appearance_id = appearance.id and w.state = 'accepted' order by w.id desc limit 1)`;
  const rows = await tx
    .select({ id: appearance.id, reading: appearance.reading, wordsKey: appearance.wordsKey, text: latest })
    .from(appearance)
    .where(inArray(appearance.id, [...ids]));
  for (const row of rows) {
    const words = row.text === writtenWords(row.reading) ? null : row.text;
    const heard = words === null ? row.reading : withWords(row.reading, words);
    await tx
      .update(appearance)
      .set({ words, version: revision, state: heard.state, wordsKey: wordsGroup({ appearance: heard }) })
      .where(eq(appearance.id, row.id));
  }
  if (mayClash) await closeWithoutWords(tx, ids);
  const before = rows.map((r) => r.wordsKey).filter((k) => k !== null);
  await auditChanged(tx, collectionId, ids, before);
  await enqueuePhrases(collectionId, tx);
}

/**
 * Chooses between the two texts of a conflict, under an act that can be undone.
 *
 * @returns false when there is no such conflict, or somebody has chosen already
 */
export async function chooseText(
  collectionId: string,
  conflictId: number,
  choice: 'ours' | 'theirs',
  act: string,
): Promise<boolean> {
  return transactionWithJobs(async (tx) => {
    const chosen = await settleConflict(tx, collectionId, conflictId, choice, act);
    if (chosen.length === 0) return false;
    await apply(tx, collectionId, chosen, await nextRevision(tx, collectionId));
    return true;
  });
}

/** Settles what a picture does at its places; rules that depend on it are asked again. */
export async function settlePurpose(collectionId: string, ids: readonly number[], purpose: string): Promise<void> {
  await transactionWithJobs(async (tx) => {
    await tx
      .update(appearance)
      .set({ purpose, purposeSettled: true })
      .where(and(eq(appearance.collectionId, collectionId), inArray(appearance.id, [...ids])));
    await auditChanged(tx, collectionId, ids, []);
  });
}
