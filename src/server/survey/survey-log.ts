import { and, asc, eq, sql } from 'drizzle-orm';
import { z } from 'zod';
import { CAUSES, type LogLine, type SurveyLog } from '@/contract/survey';
import { database } from '../db/database';
import { page, survey, visit } from '../db/schema';

const LOG_PAGE = 200;

/** What of the log is shown, as its address says it. */
export const SurveyLogView = z.object({
  what: z.enum(['all', 'read', 'waiting', 'skipped', ...CAUSES]).catch('skipped'),
  from: z.coerce.number().int().min(0).catch(0),
});
export type SurveyLogView = z.infer<typeof SurveyLogView>;

function logWhere(surveyId: number, what: SurveyLogView['what']) {
  const mine = eq(visit.surveyId, surveyId);
  switch (what) {
    case 'all':
      return mine;
    case 'read':
      return and(mine, eq(visit.state, 'done'));
    case 'waiting':
      return and(mine, eq(visit.state, 'waiting'));
    case 'skipped':
      return and(mine, eq(visit.state, 'skipped'));
    default:
      return and(mine, eq(visit.cause, what));
  }
}

/** A part of the log of every address that a survey has met. */
export async function surveyLog(surveyId: number, { what, from }: SurveyLogView): Promise<SurveyLog> {
  const db = await database();
  const lines = await logLines(surveyId, what, from, LOG_PAGE);
  const groups = await db
    .select({ state: visit.state, cause: visit.cause, n: sql`count(*)`.mapWith(Number) })
    .from(visit)
    .where(eq(visit.surveyId, surveyId))
    .groupBy(visit.state, visit.cause);
  const counts: SurveyLog['counts'] = {};
  let total = 0;
  for (const { state, cause, n } of groups) {
    const key = state === 'done' ? 'read' : state === 'skipped' ? (cause ?? 'unreadable') : 'waiting';
    counts[key] = (counts[key] ?? 0) + n;
    if (what === 'all' || what === key || (what === 'skipped' && state === 'skipped')) total += n;
  }
  return { lines, total, counts };
}

/** Lines of the log from one on, in the order in which the addresses were met. */
export async function logLines(
  surveyId: number,
  what: SurveyLogView['what'],
  from: number,
  limit: number,
): Promise<LogLine[]> {
  const db = await database();
  const { address, kind, state, reason, cause, status, foundOn } = visit;
  return db
    .select({
      ...{ address, kind, state, reason, cause, status, foundOn },
      rendered: sql<boolean>`coalesce(${page.rendered}, false)`,
    })
    .from(visit)
    .innerJoin(survey, eq(survey.id, visit.surveyId))
    .leftJoin(
      page,
      and(eq(visit.kind, 'page'), eq(page.collectionId, survey.collectionId), eq(page.path, visit.address)),
    )
    .where(logWhere(surveyId, what))
    .orderBy(asc(visit.seq))
    .limit(limit)
    .offset(from);
}
