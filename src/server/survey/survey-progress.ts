import { and, desc, eq, sql } from 'drizzle-orm';
import type { PastSurvey, SurveyProgress } from '@/contract/survey';
import { analysisProgress } from '../analysis/analysis-progress';
import { database } from '../db/database';
import { collection, survey, visit } from '../db/schema';
import { detailOf } from '../jobs/progress';
import type { FrontierProgress, Tally } from './frontier';

/** The speed is that of the last so many seconds. */
const LATE_SECONDS = 15;
const PAST_SHOWN = 20;
const RECENT = 6;

export async function latestSurvey(collectionId: string): Promise<number | null> {
  const db = await database();
  const [row] = await db
    .select({ id: survey.id })
    .from(survey)
    .where(eq(survey.collectionId, collectionId))
    .orderBy(desc(survey.id))
    .limit(1);
  return row?.id ?? null;
}

export async function surveyProgress(surveyId: number): Promise<SurveyProgress | null> {
  const db = await database();
  const [row] = await db
    .select({ survey, name: collection.name })
    .from(survey)
    .innerJoin(collection, eq(collection.id, survey.collectionId))
    .where(eq(survey.id, surveyId));
  if (!row) return null;
  const progress =
    row.survey.phase === 'gathering' ? await detailOf<FrontierProgress>('survey', row.survey.collectionId) : null;
  const { page: pages, picture: pictures } = progress?.tally ?? (await tallyOf(surveyId));
  const done = await db
    .select({ address: visit.address })
    .from(visit)
    .where(and(eq(visit.surveyId, surveyId), eq(visit.kind, 'page'), eq(visit.state, 'done')))
    .orderBy(sql`settled_at desc nulls last`)
    .limit(RECENT);
  const recent = [
    ...(progress?.inHand ?? []).map((address: string) => ({ address, state: 'reading' as const })),
    ...done.map(({ address }) => ({ address, state: 'done' as const })),
  ].slice(0, RECENT);
  const analysis = await analysisProgress(row.survey.collectionId);
  const [late] = await db
    .select({
      n: sql`count(*)`.mapWith(Number),
      seconds: sql`extract(epoch from now() - min(settled_at))`.mapWith(Number),
    })
    .from(visit)
    .where(
      and(
        eq(visit.surveyId, surveyId),
        eq(visit.kind, 'page'),
        eq(visit.state, 'done'),
        sql`settled_at > now() - interval '${sql.raw(String(LATE_SECONDS))} seconds'`,
      ),
    );
  const s = row.survey;
  return {
    id: s.id,
    state: s.state,
    phase: s.phase,
    message: s.message,
    startedAt: s.startedAt.toISOString(),
    finishedAt: s.finishedAt?.toISOString() ?? null,
    pagesDone: pages.done,
    pagesWaiting: pages.waiting,
    pagesSkipped: pages.skipped,
    pictures: pictures.done + pictures.skipped,
    picturesSkipped: pictures.skipped,
    perSecond: s.state === 'running' && late!.seconds > 0 ? late!.n / late!.seconds : null,
    recent,
    ...analysis,
  };
}

async function tallyOf(surveyId: number): Promise<Tally> {
  const db = await database();
  const counts = await db
    .select({ kind: visit.kind, state: visit.state, n: sql`count(*)`.mapWith(Number) })
    .from(visit)
    .where(eq(visit.surveyId, surveyId))
    .groupBy(visit.kind, visit.state);
  const n = (kind: string, state: string) => counts.find((c) => c.kind === kind && c.state === state)?.n ?? 0;
  const of = (kind: string) => ({ waiting: n(kind, 'waiting'), done: n(kind, 'done'), skipped: n(kind, 'skipped') });
  return { page: of('page'), picture: of('picture'), stylesheet: of('stylesheet') };
}

/** The surveys of a collection before the latest. */
export async function pastSurveys(collectionId: string): Promise<PastSurvey[]> {
  const db = await database();
  const rows = await db
    .select({ id: survey.id, state: survey.state, startedAt: survey.startedAt, summary: survey.summary })
    .from(survey)
    .where(eq(survey.collectionId, collectionId))
    .orderBy(desc(survey.id))
    .limit(PAST_SHOWN);
  return rows.map((r) => ({ ...r, startedAt: r.startedAt.toISOString() }));
}
