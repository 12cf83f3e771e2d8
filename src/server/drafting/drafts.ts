import { and, eq, inArray, ne } from 'drizzle-orm';
import { announceChange } from '../changes';
import { database } from '../db/database';
import { appearance, picture, wording } from '../db/schema';
import { refreshPictures } from '../audit/picture-counts';
import { transactionWithJobs } from '../jobs/queue';
import { log, messageOf } from '../log';
import { draftRequest } from './draft-requests';
import type { Drafter, DraftResult } from './drafter';
import { evidenceDrafter } from './evidence-drafter';

/** Drafts that are stored at once: few enough that little is lost when the process ends. */
const PORTION = 50;

/** What a drafter says of one appearance; null where there is no such appearance. */
export async function draftFor(
  appearanceId: number,
  drafter: Drafter = evidenceDrafter,
  signal: AbortSignal = new AbortController().signal,
): Promise<DraftResult | null> {
  const request = await draftRequest(await database(), appearanceId, drafter.needsPixels);
  return request && drafter.draft(request, signal);
}

interface Drafted {
  appearanceId: number;
  draft: DraftResult & { text: string };
}

/**
 * Leaves a draft at each of some appearances, in place of one that waits there.
 *
 * @param act what is undone at one stroke
 * @returns at how many there was something to say; an appearance at which the drafter fails is none of them
 */
export async function draftAppearances(
  collectionId: string,
  ids: readonly number[],
  act: string,
  drafter: Drafter = evidenceDrafter,
  signal: AbortSignal = new AbortController().signal,
): Promise<number> {
  const db = await database();
  const own = await db
    .select({ id: appearance.id })
    .from(appearance)
    .where(and(eq(appearance.collectionId, collectionId), inArray(appearance.id, [...ids])));
  let drafted = 0;
  let portion: Drafted[] = [];
  const store = async () => {
    await storeDrafts(collectionId, portion, act);
    drafted += portion.length;
    portion = [];
  };
  for (const { id } of own) {
    if (signal.aborted) break;
    const draft = await draftFor(id, drafter, signal).catch((error: unknown) => {
      log.warn({ drafter: drafter.id, appearanceId: id, message: messageOf(error) }, 'a drafter failed');
      return null;
    });
    if (draft?.text) portion.push({ appearanceId: id, draft: { ...draft, text: draft.text } });
    if (portion.length >= PORTION) await store();
  }
  if (portion.length > 0) await store();
  announceChange({ collectionId, pictures: null });
  return drafted;
}

async function storeDrafts(collectionId: string, drafts: readonly Drafted[], act: string): Promise<void> {
  const ids = drafts.map((d) => d.appearanceId);
  await transactionWithJobs(async (tx) => {
    // A draft of the same act is made once more, not rejected.
    await tx
      .update(wording)
      .set({ state: 'rejected', closedFrom: 'draft', closedAct: act })
      .where(and(inArray(wording.appearanceId, ids), eq(wording.state, 'draft'), ne(wording.act, act)));
    await tx
      .update(wording)
      .set({ state: 'rejected' })
      .where(and(inArray(wording.appearanceId, ids), eq(wording.state, 'draft'), eq(wording.act, act)));
    await tx.insert(wording).values(
      drafts.map(({ appearanceId, draft: { text, evidence, missing } }) => ({
        ...{ collectionId, appearanceId, text, act },
        by: 'drafter' as const,
        state: 'draft' as const,
        evidence: { from: evidence, missing },
      })),
    );
    const pictures = tx
      .selectDistinct({ id: appearance.pictureId })
      .from(appearance)
      .where(inArray(appearance.id, ids));
    await refreshPictures(tx, inArray(picture.id, pictures));
  });
}
