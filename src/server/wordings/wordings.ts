import { UserError } from '@/core/model/user-error';
import { and, eq, not, sql } from 'drizzle-orm';
import type { Conflict } from '@/contract/conflict';
import type { DraftRecord } from '@/contract/drafting';
import type { Appearance, Purpose } from '@/core/model/appearance';
import { changedShare } from '@/core/draft/changed';
import { gapsIn, hasGaps } from '@/core/draft/draft';
import { wordsGroup } from '@/core/rules/audit';
import { groupBy } from '@/core/group-by';
import { withTexts, writtenWords } from '@/core/model/wording';
import { auditChanged } from '../audit/audit-changes';
import { recordSteps } from '../catalogue/act-steps';
import { raiseChanges } from '../catalogue/collection-state';
import { announceChange } from '../changes';
import { metrics } from '../metrics';
import { enqueuePhrases, transactionWithJobs } from '../jobs/queue';
import { among, insertRows, storable } from '../db/bulk';
import type { Queryable } from '../db/database';
import { appearance, collection, conflict, wording } from '../db/schema';
import { clashes, closeWithoutWords, openConflicts, saveConflicts, settleConflict, settleConflicts } from './conflicts';
import { closeWordings, picturesOf, refreshPicturesOf, setPurpose, type SettledPurpose } from './history';

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
  /** Earlier acts of whoever writes: words that they saved are nobody else's. */
  after?: readonly string[];
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
export async function saveWords({ appearanceIds, text, ...kept }: Kept): Promise<KeepAnswer> {
  const texts = [...new Set(appearanceIds)].map((appearanceId) => ({ appearanceId, text }));
  return saveTexts({ ...kept, texts, isWhole: true });
}

export interface KeptTexts extends Pick<Kept, 'collectionId' | 'act' | 'by' | 'since' | 'after'> {
  texts: readonly { appearanceId: number; text: string | null }[];
  /** Whether this is all that the act keeps; false for one part of several. */
  isWhole: boolean;
}

/**
 * Keeps texts for appearances, each its own, as {@link saveWords} does it for one text.
 *
 * @throws Error in words when a text still has gaps
 */
export async function saveTexts({ texts, isWhole, ...kept }: KeptTexts): Promise<KeepAnswer> {
  for (const { text } of texts) assertFilled(text);
  const { collectionId } = kept;
  const { changed, ...answer } = await transactionWithJobs(collectionId, async (tx) => {
    const rows = await tx
      .select({
        id: appearance.id,
        pictureId: appearance.pictureId,
        version: appearance.version,
        words: appearance.words,
        // Read only where it is of interest: it is the largest part of a row.
        reading: sql<Appearance | null>`case when ${appearance.version} > ${kept.since ?? 2 ** 31 - 1} then ${appearance.reading} end`,
      })
      .from(appearance)
      .where(
        and(
          eq(appearance.collectionId, collectionId),
          among(
            appearance.id,
            texts.map((t) => t.appearanceId),
          ),
        ),
      );
    const now = await nextRevision(tx, collectionId);
    const rowOf = new Map(rows.map((r) => [r.id, r]));
    const known: number[] = [];
    const clash: number[] = [];
    for (const [text, group] of groupBy(texts, (t) => t.text)) {
      const own = group.flatMap((t) => rowOf.get(t.appearanceId) ?? []);
      const clashing = await clashes(tx, { ...kept, text }, own);
      const late = new Set(clashing.map((c) => c.id));
      await saveConflicts(tx, { ...kept, text }, clashing);
      const ids = own.map((r) => r.id).filter((id) => !late.has(id));
      if (ids.length > 0) await keepAt(tx, { ...kept, text }, ids, now);
      known.push(...ids);
      clash.push(...late);
    }
    const left = isWhole ? await undoOthers(tx, kept, [...known, ...clash]) : [];
    await apply(tx, collectionId, [...known, ...left], now);
    return {
      places: known.length,
      conflicts: await openConflicts(tx, collectionId, clash),
      revision: now.revision,
      changed: [...new Set(rows.map((r) => r.pictureId))],
    };
  });
  announceChange({ collectionId, pictures: changed });
  metrics().saves.inc();
  return answer;
}

/** What is kept of a draft that the Desk composed as it opened. */
const SHOWN_DRAFT: DraftRecord = {
  ...{ evidence: [], missing: null, confidence: 0.5, uncertain: [], other: {}, faults: [], doubtful: false },
  ...{ alternatives: [], origin: { service: null, model: null, prompt: null, cost: 0, currency: null } },
};

/** Share of a draft from which on a text that replaces it is another one. */
const MOSTLY_NEW = 0.6;

async function keepAt(
  tx: Queryable,
  { collectionId, text, act, by }: Omit<Kept, 'appearanceIds' | 'since' | 'after'>,
  known: readonly number[],
  now: Revision,
): Promise<void> {
  const replaced = await tx
    .update(wording)
    .set({ text, by, state: 'accepted', at: new Date() })
    .where(and(eq(wording.act, act), eq(wording.collectionId, collectionId), among(wording.appearanceId, known)))
    .returning({ id: wording.id, appearanceId: wording.appearanceId, draft: wording.draft });
  for (const { id, draft } of replaced)
    if (draft?.accepted && text !== null)
      await tx
        .update(wording)
        .set({ draft: acceptedFrom(draft, draft.accepted.drafted, text, draft.accepted.by) })
        .where(eq(wording.id, id));
  const there = new Set(replaced.map((r) => r.appearanceId));
  const drafts = await tx
    .select()
    .from(wording)
    .where(and(among(wording.appearanceId, known), eq(wording.state, 'draft')));
  const draftAt = new Map(drafts.map((d) => [d.appearanceId, d]));
  await insertRows(
    tx,
    wording,
    known
      .filter((id) => !there.has(id))
      .map((appearanceId) => {
        const waiting = draftAt.get(appearanceId);
        // A draft that was only shown, and waited nowhere, is the evidence drafter's.
        const record = waiting ? waiting.draft : by === 'drafter' ? SHOWN_DRAFT : null;
        const from = text === null ? null : acceptedFrom(record, waiting?.text ?? text, text, null);
        // A text that has next to nothing of the draft is no edited draft.
        const isFromDraft = from !== null && (by === 'drafter' || from.accepted!.changed < MOSTLY_NEW);
        return {
          ...{ collectionId, appearanceId, text, by, act, state: 'accepted' as const },
          draft: isFromDraft ? from : null,
          grade: isFromDraft ? (waiting?.grade ?? null) : null,
          roundId: isFromDraft ? (waiting?.roundId ?? null) : null,
        };
      }),
  );
  // Who writes the words has read the draft.
  await closeWordings(tx, and(among(wording.appearanceId, known), eq(wording.state, 'draft'))!, act);
  if (now.clashes) await settleConflicts(tx, known, text, act);
}

/** Of an act that was kept again with fewer places, the others get back what they had before. */
async function undoOthers(
  tx: Queryable,
  { collectionId, act }: Pick<Kept, 'collectionId' | 'act'>,
  kept: readonly number[],
): Promise<number[]> {
  const left = await tx
    .update(wording)
    .set({ state: 'undone' })
    .where(
      and(
        eq(wording.act, act),
        eq(wording.collectionId, collectionId),
        eq(wording.state, 'accepted'),
        not(among(wording.appearanceId, kept)),
      ),
    )
    .returning({ appearanceId: wording.appearanceId });
  return left.map((l) => l.appearanceId);
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

/** Makes what counts of appearances what their history says, after some of it was undone or redone. */
export async function applyHistory(tx: Queryable, collectionId: string, ids: readonly number[]): Promise<void> {
  await apply(tx, collectionId, ids, await nextRevision(tx, collectionId));
}

/** Rejects the drafts that wait at appearances; gives back how many there were. */
export async function rejectDrafts(collectionId: string, ids: readonly number[], act: string): Promise<number> {
  const pictures = await transactionWithJobs(collectionId, async (tx) => {
    const closed = await closeWordings(tx, waitingAt(collectionId, ids), act);
    await raiseChanges(tx, collectionId);
    return refreshPicturesOf(tx, closed);
  });
  announceChange({ collectionId, pictures: pictures.map((p) => p.id) });
  return pictures.reduce((sum, p) => sum + p.places, 0);
}

/** How drafts are accepted. */
export interface Acceptance {
  /** Another text than the drafted ones; null for each as it stands. */
  text?: string | null;
  /** Who, as they call themselves. */
  by?: string | null;
}

/**
 * Accepts the drafts that wait at appearances. Those with gaps are left, because only a person can fill them; what was changed
 * counts as a person's words, and how much of it was changed is kept.
 *
 * @returns at how many places
 * @throws Error in words when the text given still has gaps
 */
export async function acceptDrafts(
  collectionId: string,
  ids: readonly number[],
  act: string,
  { text = null, by = null }: Acceptance = {},
): Promise<number> {
  if (text !== null) assertFilled(text);
  const pictures = await transactionWithJobs(collectionId, async (tx) => {
    const waiting = await tx.select().from(wording).where(waitingAt(collectionId, ids));
    const drafts = waiting.filter((d) => text !== null || !hasGaps(d.text ?? ''));
    await insertRows(
      tx,
      wording,
      drafts.map(({ appearanceId, text: drafted, draft, grade, roundId }) => {
        const accepted = acceptedFrom(draft, drafted ?? '', text ?? drafted ?? '', by);
        return {
          ...{ collectionId, appearanceId, act, grade, roundId, draft: accepted },
          text: text ?? drafted,
          by: isUnchanged(accepted) ? ('drafter' as const) : ('person' as const),
          state: 'accepted' as const,
        };
      }),
    );
    const places = drafts.map((d) => d.appearanceId);
    await closeWordings(tx, and(among(wording.appearanceId, places), eq(wording.state, 'draft'))!, act);
    await apply(tx, collectionId, places, await nextRevision(tx, collectionId));
    return picturesOf(tx, places);
  });
  announceChange({ collectionId, pictures: pictures.map((p) => p.id) });
  return pictures.reduce((sum, p) => sum + p.places, 0);
}

/** What is kept with words that came from a draft: who accepted it, and how much of it was changed. */
function acceptedFrom(draft: DraftRecord | null, drafted: string, text: string, by: string | null): DraftRecord | null {
  return draft && { ...draft, accepted: { by, drafted, changed: changedShare(drafted, text) } };
}

const isUnchanged = (draft: DraftRecord | null): boolean => (draft?.accepted?.changed ?? 0) === 0;

/** @throws Error in words when a text still asks what only a person can say */
function assertFilled(text: string | null): void {
  const [gap] = text === null ? [] : gapsIn(text);
  if (gap) throw new UserError(`The text still asks “${gap.question}”. Answer it there first, or delete the question.`);
}

const waitingAt = (collectionId: string, ids: readonly number[]) =>
  and(eq(wording.collectionId, collectionId), among(wording.appearanceId, ids), eq(wording.state, 'draft'))!;

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
    .select({
      ...{ id: appearance.id, reading: appearance.reading, wordsKey: appearance.wordsKey, text: latest },
      ...{ title: appearance.title, caption: appearance.caption },
    })
    .from(appearance)
    .where(among(appearance.id, ids));
  const now = rows.map((row) => {
    const words = row.text === writtenWords(row.reading) ? null : row.text;
    const heard = withTexts(row.reading, { ...row, words });
    return { id: row.id, words, state: heard.state, key: wordsGroup({ appearance: heard }) };
  });
  await tx.execute(sql`update ${appearance} set words = r.words, version = ${revision}, state = r.state, words_key = r.key
    from json_to_recordset(${storable(now)}::json) as r(id int, words text, state text, key text)
    where ${appearance.id} = r.id`);
  if (mayClash) await closeWithoutWords(tx, ids);
  const before = rows.map((r) => r.wordsKey).filter((k) => k !== null);
  await auditChanged(tx, collectionId, ids, before);
  await enqueuePhrases(collectionId, tx);
}

/** What a person chooses between two texts: one of them, or words of their own, made of both. */
export type Choice = 'ours' | 'theirs' | { text: string };

/**
 * Chooses between the two texts of a conflict, under an act that can be undone.
 *
 * @returns false when there is no such conflict, or somebody has chosen already
 */
export async function chooseText(
  collectionId: string,
  conflictId: number,
  choice: Choice,
  act: string,
): Promise<boolean> {
  const pictures = await transactionWithJobs(collectionId, async (tx) => {
    const chosen = await settleConflict(tx, collectionId, conflictId, choice, act);
    await apply(tx, collectionId, chosen, await nextRevision(tx, collectionId));
    return picturesOf(tx, chosen);
  });
  announceChange({ collectionId, pictures: pictures.map((p) => p.id) });
  return pictures.length > 0;
}

/** Settles what a picture does at its places; rules that depend on it are asked again. */
export async function settlePurpose(
  collectionId: string,
  ids: readonly number[],
  purpose: Purpose,
  act: string,
): Promise<number> {
  const pictures = await transactionWithJobs(collectionId, async (tx) => {
    const rows = await tx
      .select({ id: appearance.id, purpose: appearance.purpose, settled: appearance.purposeSettled })
      .from(appearance)
      .where(and(eq(appearance.collectionId, collectionId), among(appearance.id, ids)));
    const after: SettledPurpose = { purpose, settled: true };
    await recordSteps(
      tx,
      collectionId,
      act,
      rows.map(({ id, ...before }) => ({ kind: 'purpose', target: id, before, after })),
    );
    const own = rows.map((r) => r.id);
    await setPurpose(tx, own, after);
    await auditChanged(tx, collectionId, own, []);
    return picturesOf(tx, own);
  });
  announceChange({ collectionId, pictures: pictures.map((p) => p.id) });
  return pictures.reduce((sum, p) => sum + p.places, 0);
}
