import { and, eq, sql } from 'drizzle-orm';
import { RoundOrder, type DraftingPlan } from '@/contract/drafting';
import { database } from '../db/database';
import { appearance, collection, picture, survey } from '../db/schema';
import { log, messageOf } from '../log';
import { startRound } from './rounds';

/** What is drafted for a collection without being asked for. */
export async function draftingPlan(collectionId: string): Promise<DraftingPlan> {
  const db = await database();
  const [row] = await db.select({ plan: collection.drafting }).from(collection).where(eq(collection.id, collectionId));
  return { newPictures: row?.plan.newPictures ?? null };
}

export async function saveDraftingPlan(collectionId: string, plan: DraftingPlan): Promise<void> {
  const db = await database();
  // Which survey was drafted last stays noted.
  await db
    .update(collection)
    .set({ drafting: sql`${collection.drafting} || ${JSON.stringify(plan)}::jsonb` })
    .where(eq(collection.id, collectionId));
}

/** Notes that the new pictures of a survey are drafted; false where they were before. */
async function isFirstTime(collectionId: string, surveyId: number): Promise<boolean> {
  const db = await database();
  const noted = await db
    .update(collection)
    .set({ drafting: sql`${collection.drafting} || ${JSON.stringify({ draftedSurvey: surveyId })}::jsonb` })
    .where(
      and(
        eq(collection.id, collectionId),
        sql`(${collection.drafting}->>'draftedSurvey')::int is distinct from ${surveyId}`,
      ),
    )
    .returning({ id: collection.id });
  return noted.length > 0;
}

/** Pictures of one round at most. */
const MOST = 10_000;

/**
 * Starts a round over the pictures that the last survey found first and that have no words, where the collection wants that.
 * The first survey finds everything first; whoever wants all of that drafted starts a round.
 *
 * @returns whether one was started
 */
export async function draftNewPictures(collectionId: string): Promise<boolean> {
  const { newPictures } = await draftingPlan(collectionId);
  if (!newPictures) return false;
  const db = await database();
  const surveys = await db
    .select({ id: survey.id })
    .from(survey)
    .where(and(eq(survey.collectionId, collectionId), eq(survey.state, 'done')))
    .orderBy(sql`${survey.id} desc`)
    .limit(2);
  if (surveys.length < 2 || !(await isFirstTime(collectionId, surveys[0]!.id))) return false;
  const rows = await db
    .selectDistinct({ id: picture.id })
    .from(picture)
    .innerJoin(appearance, eq(appearance.pictureId, picture.id))
    .where(
      and(
        eq(picture.collectionId, collectionId),
        eq(picture.firstSurveyId, surveys[0]!.id),
        eq(appearance.state, 'missing'),
        eq(appearance.gone, false),
      ),
    )
    .limit(MOST);
  if (rows.length === 0) return false;
  const order = RoundOrder.parse({
    target: { kind: 'pictures', pictures: rows.map((r) => r.id) },
    service: newPictures.service,
    budget: newPictures.budget,
  });
  try {
    await startRound(collectionId, order, false);
    return true;
  } catch (error) {
    // Nothing to draft, a service that was removed, or no consent: the survey is done all the same.
    log.warn({ collectionId, message: messageOf(error) }, 'new pictures were not drafted');
    return false;
  }
}
