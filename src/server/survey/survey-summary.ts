import { and, eq, ne, sql } from 'drizzle-orm';
import type { SurveySummary } from '@/contract/survey';
import type { Database } from '../db/database';
import { appearance, page } from '../db/schema';

/** Marks what a survey did not find as gone, with its words kept. */
export async function concludeSurvey(db: Database, collectionId: string, surveyId: number): Promise<SurveySummary> {
  const notFound = (table: typeof page | typeof appearance) =>
    and(eq(table.collectionId, collectionId), ne(table.surveyId, surveyId), eq(table.gone, false));
  const gone = await db.update(page).set({ gone: true }).where(notFound(page)).returning({ id: page.id });
  await db.update(appearance).set({ gone: true }).where(notFound(appearance));
  const [pages] = await db
    .select({
      pages: sql`count(*)`.mapWith(Number),
      newPages: sql`count(*) filter (where first_survey_id = ${surveyId})`.mapWith(Number),
      changedPages:
        sql`count(*) filter (where changed_survey_id = ${surveyId} and first_survey_id <> ${surveyId})`.mapWith(Number),
    })
    .from(page)
    .where(and(eq(page.collectionId, collectionId), eq(page.gone, false)));
  const [states] = await db
    .select({
      pictures: sql`count(distinct picture_id)`.mapWith(Number),
      described: sql`count(*) filter (where state = 'described')`.mapWith(Number),
      decorative: sql`count(*) filter (where state = 'decorative')`.mapWith(Number),
      missing: sql`count(*) filter (where state = 'missing')`.mapWith(Number),
    })
    .from(appearance)
    .where(and(eq(appearance.collectionId, collectionId), eq(appearance.gone, false)));
  return { ...pages!, ...states!, gonePages: gone.length };
}
