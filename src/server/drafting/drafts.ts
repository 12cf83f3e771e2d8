import { and, eq, inArray, ne } from 'drizzle-orm';
import type { DraftRecord } from '@/contract/drafting';
import { gradeOf, sharesNothing } from '@/core/draft/grade';
import { NOTHING_SAID, type Draft } from '@/core/draft/draft';
import { refreshPictures } from '../audit/picture-counts';
import { raiseChanges } from '../catalogue/collection-state';
import { announceChange } from '../changes';
import { among, insertRows } from '../db/bulk';
import { database, type Queryable } from '../db/database';
import { appearance, picture, wording } from '../db/schema';
import { transactionWithJobs } from '../jobs/queue';
import { OWN_ORIGIN, type DraftRequest, type DraftResult } from './drafter';
import { draftRequests } from './draft-requests';
import { evidenceDraft } from './evidence-drafter';
import { faultsOf } from './faults';

/** Drafts that are made and stored at once: few enough that little is lost when the process ends. */
const PORTION = 100;

/** What the evidence drafter says of one appearance; null where there is no such appearance. */
export async function draftFor(collectionId: string, appearanceId: number): Promise<Draft | null> {
  const [request] = await draftRequests(await database(), collectionId, [appearanceId]);
  return request ? evidenceDraft(request) : null;
}

/** A draft that was judged, and the places that it is for. */
export interface JudgedDraft {
  appearanceIds: readonly number[];
  /** `''` proposes to mark them decorative. */
  text: string;
  record: DraftRecord;
  grade: number;
}

/** The text that would be kept when a draft is accepted; null where it says nothing. */
export const textOf = ({ text, decorative }: Draft): string | null => (decorative ? '' : text);

/**
 * Judges drafts by the rules, in the house style; those that say nothing are left out.
 *
 * @param drafts with the places that each is for
 * @param urgent an editor waits for it
 */
export async function judged(
  tx: Queryable,
  collectionId: string,
  drafts: readonly { request: DraftRequest; draft: DraftResult; appearanceIds: readonly number[] }[],
  urgent: boolean,
): Promise<JudgedDraft[]> {
  const telling = drafts.flatMap((d) => {
    const text = textOf(d.draft);
    return text === null ? [] : [{ ...d, text }];
  });
  const faults = await faultsOf(
    tx,
    collectionId,
    telling.map(({ request, text }) => ({ appearanceId: request.appearanceId, text })),
    urgent,
  );
  return telling.map(({ request, draft, appearanceIds, text }, i) => {
    const { evidence, missing, confidence, uncertain, other, origin, alternatives } = draft;
    const doubtful = text !== '' && sharesNothing(text, request.known, request.about.pageTitle);
    return {
      appearanceIds,
      text,
      record: { evidence, missing, confidence, uncertain, other, origin, faults: faults[i]!, doubtful, alternatives },
      grade: gradeOf(draft, faults[i]!, doubtful),
    };
  });
}

/**
 * Leaves drafts of the evidence drafter at some appearances, in place of ones that wait there.
 *
 * @param act what is undone at one stroke
 * @returns at how many there was something to say
 */
export async function draftAppearances(
  collectionId: string,
  ids: readonly number[],
  act: string,
  signal: AbortSignal = new AbortController().signal,
): Promise<number> {
  const db = await database();
  let drafted = 0;
  for (let i = 0; i < ids.length && !signal.aborted; i += PORTION) {
    const requests = await draftRequests(db, collectionId, ids.slice(i, i + PORTION));
    const drafts = await judged(
      db,
      collectionId,
      requests.map((request) => ({ request, draft: evidenceDraft(request), appearanceIds: [request.appearanceId] })),
      true,
    );
    await transactionWithJobs(collectionId, (tx) => storeDrafts(tx, collectionId, drafts, act, null));
    drafted += drafts.length;
  }
  announceChange({ collectionId, pictures: null });
  return drafted;
}

/** How likely a text that somebody wrote elsewhere is right: most people who word pictures know their trade. */
const WRITTEN_ELSEWHERE = 0.7;

/**
 * Leaves texts that were written elsewhere, such as by a translator, as drafts at their places.
 *
 * @param source what they come from, such as the name of a table
 * @returns at how many places
 */
export async function draftTexts(
  collectionId: string,
  texts: readonly { appearanceId: number; text: string }[],
  act: string,
  source: string,
): Promise<number> {
  const db = await database();
  const requests = await draftRequests(
    db,
    collectionId,
    texts.map((t) => t.appearanceId),
  );
  const textAt = new Map(texts.map((t) => [t.appearanceId, t.text]));
  const origin = { ...OWN_ORIGIN, service: source };
  const drafts = requests.map((request) => {
    const text = textAt.get(request.appearanceId)!;
    const draft = { ...NOTHING_SAID, text: text || null, decorative: text === '', confidence: WRITTEN_ELSEWHERE };
    return { request, draft: { ...draft, origin, alternatives: [] }, appearanceIds: [request.appearanceId] };
  });
  const kept = await judged(db, collectionId, drafts, false);
  await transactionWithJobs(collectionId, (tx) => storeDrafts(tx, collectionId, kept, act, null));
  announceChange({ collectionId, pictures: null });
  return kept.length;
}

/**
 * Keeps drafts at their places, in place of ones that wait there.
 *
 * @param roundId the round that they were made in; null for none
 */
export async function storeDrafts(
  tx: Queryable,
  collectionId: string,
  drafts: readonly JudgedDraft[],
  act: string,
  roundId: number | null,
): Promise<void> {
  const ids = drafts.flatMap((d) => d.appearanceIds);
  if (ids.length === 0) return;
  // A draft of the same act is made once more, not rejected.
  await tx
    .update(wording)
    .set({ state: 'rejected', closedFrom: 'draft', closedAct: act })
    .where(and(among(wording.appearanceId, ids), eq(wording.state, 'draft'), ne(wording.act, act)));
  await tx
    .update(wording)
    .set({ state: 'rejected' })
    .where(and(among(wording.appearanceId, ids), eq(wording.state, 'draft'), eq(wording.act, act)));
  await insertRows(
    tx,
    wording,
    drafts.flatMap(({ appearanceIds, text, record, grade }) =>
      appearanceIds.map((appearanceId) => ({
        ...{ collectionId, appearanceId, text, act, roundId, grade },
        by: 'drafter' as const,
        state: 'draft' as const,
        draft: record,
      })),
    ),
  );
  const pictures = tx.selectDistinct({ id: appearance.pictureId }).from(appearance).where(among(appearance.id, ids));
  await refreshPictures(tx, inArray(picture.id, pictures));
  await raiseChanges(tx, collectionId);
}

/** Pictures of some appearances. */
export async function picturesAt(tx: Queryable, ids: readonly number[]): Promise<number[]> {
  const rows = await tx.selectDistinct({ id: appearance.pictureId }).from(appearance).where(among(appearance.id, ids));
  return rows.map((r) => r.id);
}
