import { EventEmitter } from 'node:events';
import { and, asc, desc, eq, sql } from 'drizzle-orm';
import type { SurveyProgress } from '@/contract/survey';
import { ReaderPool } from '../analysis/reader-pool';
import { auditAll } from '../audit/audit';
import { collectionById, type Collection } from '../collections/collections';
import { database } from '../db/database';
import { collection, survey, visit } from '../db/schema';
import { log } from '../log';
import { DatabaseStore } from './database-store';
import { runSurvey } from './engine';
import { openSource } from './open-source';

const CONCURRENCY = 4;
const SKIPPED_SHOWN = 200;

interface Running {
  controller: AbortController;
  events: EventEmitter;
  finished: Promise<void>;
}

/** One register for the process, across the bundles that Next makes of the server. */
const shared = globalThis as typeof globalThis & {
  dettoSurveys?: { running: Map<number, Running>; readers: ReaderPool | null };
};
const register = (shared.dettoSurveys ??= { running: new Map(), readers: null });

/** Begins a survey in the background; one that runs for the collection already goes on instead. */
export async function startSurvey(collectionId: string): Promise<number> {
  const db = await database();
  const [active] = await db
    .select({ id: survey.id })
    .from(survey)
    .where(and(eq(survey.collectionId, collectionId), eq(survey.state, 'running')));
  if (active && register.running.has(active.id)) return active.id;
  const found = await collectionById(collectionId);
  if (!found) throw new Error('There is no such collection.');
  const [row] = await db.insert(survey).values({ collectionId, state: 'running' }).returning({ id: survey.id });
  launch(row!.id, found);
  return row!.id;
}

/** Goes on with a survey that was stopped, from where it was. */
export async function resumeSurvey(surveyId: number): Promise<void> {
  if (register.running.has(surveyId)) return;
  const db = await database();
  const [row] = await db
    .update(survey)
    .set({ state: 'running', phase: 'gathering', message: null, finishedAt: null })
    .where(eq(survey.id, surveyId))
    .returning({ collectionId: survey.collectionId });
  const found = row ? await collectionById(row.collectionId) : null;
  if (found) launch(surveyId, found);
}

/** Takes up what was running when the process ended. */
export async function resumeAll(): Promise<void> {
  const db = await database();
  const rows = await db.select({ id: survey.id }).from(survey).where(eq(survey.state, 'running'));
  for (const { id } of rows) await resumeSurvey(id);
}

function launch(surveyId: number, found: Collection): void {
  const controller = new AbortController();
  const events = new EventEmitter().setMaxListeners(0);
  const finished = run(surveyId, found, controller.signal, () => events.emit('changed'))
    .catch((error: unknown) => log.error({ surveyId, error }, 'survey failed'))
    .finally(() => {
      register.running.delete(surveyId);
      events.emit('changed');
    });
  register.running.set(surveyId, { controller, events, finished });
}

async function run(surveyId: number, c: Collection, signal: AbortSignal, changed: () => void): Promise<void> {
  const db = await database();
  const readers = (register.readers ??= new ReaderPool(2));
  const end = async (state: 'stopped' | 'done' | 'failed', message: string | null) => {
    await db
      .update(survey)
      .set({ state, phase: 'over', message, finishedAt: new Date() })
      .where(eq(survey.id, surveyId));
  };
  try {
    const source = await openSource(c, signal);
    const store = await DatabaseStore.open(db, c.id, surveyId, c.maxPages, changed);
    try {
      await runSurvey(source, store, readers, { maxDepth: c.maxDepth, concurrency: CONCURRENCY, signal });
    } finally {
      await source.close();
    }
    await store.finish();
    if (!signal.aborted) await store.markGone();
    await db.update(survey).set({ phase: 'auditing' }).where(eq(survey.id, surveyId));
    changed();
    await auditAll(c.id);
    const { pagesDone, skipped } = (await surveyProgress(surveyId))!;
    if (signal.aborted) await end('stopped', null);
    else if (pagesDone > 0) await end('done', null);
    else await end('failed', nothingRead(c, skipped[0]));
  } catch (error) {
    await end('failed', error instanceof Error ? error.message : String(error));
  }
}

function nothingRead(c: Collection, first: { address: string; reason: string } | undefined): string {
  if (first) return `No page could be read. ${first.address}: ${first.reason}.`;
  return c.kind === 'site' ? 'No page could be read.' : 'There is no HTML page in it.';
}

/** Stops at the next page; what was read stays, and the survey can go on later. */
export async function stopSurvey(surveyId: number): Promise<void> {
  const running = register.running.get(surveyId);
  running?.controller.abort();
  await running?.finished;
}

/** Stops everything without marking it stopped, so that the next start goes on. */
export async function suspendSurveys(): Promise<void> {
  const db = await database();
  const running = [...register.running];
  for (const [, r] of running) r.controller.abort();
  await Promise.all(running.map(([, r]) => r.finished));
  for (const [id] of running) await db.update(survey).set({ state: 'running' }).where(eq(survey.id, id));
  register.readers?.close();
  register.readers = null;
}

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
  const counts = await db
    .select({ kind: visit.kind, state: visit.state, n: sql`count(*)`.mapWith(Number) })
    .from(visit)
    .where(eq(visit.surveyId, surveyId))
    .groupBy(visit.kind, visit.state);
  const n = (kind: string, ...states: string[]) =>
    counts.filter((c) => c.kind === kind && states.includes(c.state)).reduce((sum, c) => sum + c.n, 0);
  const recent = await db
    .select({ address: visit.address, kind: visit.kind, state: visit.state })
    .from(visit)
    .where(and(eq(visit.surveyId, surveyId), eq(visit.kind, 'page'), sql`state in ('done', 'reading')`))
    .orderBy(desc(visit.state), desc(visit.seq))
    .limit(6);
  const skipped = await db
    .select({ address: visit.address, kind: visit.kind, reason: visit.reason })
    .from(visit)
    .where(and(eq(visit.surveyId, surveyId), eq(visit.state, 'skipped')))
    .orderBy(asc(visit.seq))
    .limit(SKIPPED_SHOWN);
  const s = row.survey;
  return {
    id: s.id,
    state: s.state,
    phase: s.phase,
    message: s.message,
    startedAt: s.startedAt.toISOString(),
    finishedAt: s.finishedAt?.toISOString() ?? null,
    pagesDone: n('page', 'done'),
    pagesWaiting: n('page', 'waiting', 'reading'),
    pagesSkipped: n('page', 'skipped'),
    pictures: n('picture', 'done', 'skipped'),
    picturesSkipped: n('picture', 'skipped'),
    recent,
    skipped: skipped.map((v) => ({ ...v, reason: v.reason ?? '' })),
  };
}

/** Calls back whenever something changed; the function it gives ends that. */
export function watchSurvey(surveyId: number, changed: () => void): () => void {
  const events = register.running.get(surveyId)?.events;
  events?.on('changed', changed);
  return () => events?.off('changed', changed);
}
