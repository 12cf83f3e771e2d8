import { EventEmitter } from 'node:events';
import { and, asc, desc, eq, sql } from 'drizzle-orm';
import { z } from 'zod';
import { CAUSES, type SurveyLog, type LogLine, type PastSurvey, type SurveyProgress } from '@/contract/survey';
import { Scope } from '@/contract/scope';
import { analyseCollection, analysisProgress, stopAnalysis } from '../analysis/analysis';
import { closeReaders, sharedReaders } from '../workers/reader-pool';
import { auditAll } from '../audit/audit';
import { closeAuditor } from '../audit/audit-worker';
import { suspendRecounts } from '../audit/house-style';
import { collectionById, type Collection } from '../catalogue/collections';
import { config } from '../config';
import { database } from '../db/database';
import { collection, page, survey, visit } from '../db/schema';
import { DiskFullError, ensureRoom, meansDiskFull } from '../disk';
import { log, messageOf } from '../log';
import { DatabaseStore } from './database-store';
import { runSurvey } from './engine';
import { openRenderer, openSource } from './open-source';

const CONCURRENCY = 4;
/** The speed is that of the last so many seconds. */
const LATE_SECONDS = 15;
const LOG_PAGE = 200;
const PAST_SHOWN = 20;
const RECENT = 6;

interface Running {
  controller: AbortController;
  events: EventEmitter;
  /** Null until it has begun to gather. */
  standing(): DatabaseStore['standing'] | null;
  finished: Promise<void>;
}

/** One register for the process, across the bundles that Next makes of the server. */
const shared = globalThis as typeof globalThis & {
  dettoSurveys?: { running: Map<number, Running> };
};
const register = (shared.dettoSurveys ??= { running: new Map() });

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
    .set({ state: 'running', phase: 'gathering', message: null, finishedAt: null, starts: 0, reading: [] })
    .where(eq(survey.id, surveyId))
    .returning({ collectionId: survey.collectionId });
  const found = row ? await collectionById(row.collectionId) : null;
  if (found) launch(surveyId, found);
}

/** Starts without a settled page in between after which a survey is not taken up again by itself. */
const MOST_STARTS = 2;

/** Takes up what was running when the process ended. */
export async function resumeAll(): Promise<void> {
  const db = await database();
  const rows = await db
    .select({ id: survey.id, collectionId: survey.collectionId, starts: survey.starts, reading: survey.reading })
    .from(survey)
    .where(eq(survey.state, 'running'));
  for (const { id, collectionId, starts, reading } of rows) {
    const found = await collectionById(collectionId);
    if (starts >= MOST_STARTS) await waitFor(id, reading);
    else if (found) launch(id, found);
  }
  const collections = await db.select({ id: collection.id }).from(collection);
  for (const { id } of collections) analyseCollection(id);
}

/** What ended the process twice would end it again. */
async function waitFor(surveyId: number, reading: readonly string[]): Promise<void> {
  const db = await database();
  const at = reading.length > 0 ? `while it read ${reading.slice(0, 4).join(', ')}` : 'before it read a page';
  const message = `Detto ended twice ${at}. The survey waits: leave that address out by a pattern, or resume it as it is.`;
  log.error({ surveyId, reading }, 'a survey is not resumed: the process ended twice at the same place');
  await db
    .update(survey)
    .set({ state: 'stopped', phase: 'over', message, finishedAt: new Date() })
    .where(eq(survey.id, surveyId));
}

function launch(surveyId: number, found: Collection): void {
  const controller = new AbortController();
  const events = new EventEmitter().setMaxListeners(0);
  let store = null as DatabaseStore | null;
  const watch = (opened: DatabaseStore) => {
    store = opened;
  };
  const finished = run(surveyId, found, controller.signal, () => events.emit('changed'), watch)
    .catch((error: unknown) => log.error({ surveyId, message: messageOf(error) }, 'survey failed'))
    .finally(() => {
      register.running.delete(surveyId);
      events.emit('changed');
    });
  register.running.set(surveyId, { controller, events, standing: () => store?.standing ?? null, finished });
}

async function run(
  surveyId: number,
  c: Collection,
  signal: AbortSignal,
  changed: () => void,
  watch: (store: DatabaseStore) => void,
): Promise<void> {
  const db = await database();
  const readers = sharedReaders();
  const end = async (state: 'stopped' | 'done' | 'failed', message: string | null) => {
    await db
      .update(survey)
      .set({ state, phase: 'over', message, finishedAt: new Date() })
      .where(eq(survey.id, surveyId));
  };
  try {
    const { dataDir, reserve } = config();
    await ensureRoom(dataDir, 0, reserve);
    await db
      .update(survey)
      .set({ starts: sql`${survey.starts} + 1` })
      .where(eq(survey.id, surveyId));
    const source = await openSource(c, signal);
    const renderer = await openRenderer(c);
    const opening = DatabaseStore.open(db, c.id, surveyId, c.maxPages, changed).then((store) => {
      // What fails is told by the survey itself.
      store.loaded.then(
        () => watch(store),
        () => undefined,
      );
      return store;
    });
    try {
      const { reading } = Scope.parse(c.scope);
      await runSurvey(source, opening, readers, {
        maxDepth: c.maxDepth,
        concurrency: CONCURRENCY,
        signal,
        reading,
        renderer,
      });
    } finally {
      await renderer?.close();
      await source.close();
    }
    const store = await opening;
    await store.finish();
    readers.rest();
    const summary = signal.aborted ? null : await store.conclude();
    if (summary) await db.update(survey).set({ summary }).where(eq(survey.id, surveyId));
    await db.update(survey).set({ phase: 'auditing' }).where(eq(survey.id, surveyId));
    changed();
    await auditAll(c.id);
    const { pagesDone } = (await surveyProgress(surveyId))!;
    analyseCollection(c.id, true);
    if (signal.aborted) await end('stopped', null);
    else if (pagesDone > 0) await end('done', null);
    else await end('failed', await nothingRead(c, surveyId));
  } catch (error) {
    const message = messageOf(error);
    log.error({ surveyId, message }, 'survey failed');
    // A full disk is no fault of the survey's: it goes on when there is room.
    const [state, told] = meansDiskFull(error)
      ? (['stopped', error instanceof DiskFullError ? error.message : FULL] as const)
      : (['failed', message] as const);
    await insist(() => end(state, told), signal);
  }
}

const FULL = 'The disk is full. Free some space, then resume the survey; what was read is saved.';
/** Milliseconds after which what the database could not take is tried again. */
const AGAIN = 3000;

/** Tries until it works, as while the disk is full it may not; not any more when the process is about to end. */
async function insist(work: () => Promise<void>, signal: AbortSignal): Promise<void> {
  for (;;)
    try {
      return await work();
    } catch (error) {
      if (signal.aborted) throw error;
      await new Promise((resolve) => setTimeout(resolve, AGAIN).unref());
    }
}

async function nothingRead(c: Collection, surveyId: number): Promise<string> {
  const db = await database();
  const [first] = await db
    .select({ address: visit.address, reason: visit.reason })
    .from(visit)
    .where(and(eq(visit.surveyId, surveyId), eq(visit.state, 'skipped')))
    .orderBy(asc(visit.seq))
    .limit(1);
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
  for (const [id] of running)
    await db.update(survey).set({ state: 'running', starts: 0, reading: [] }).where(eq(survey.id, id));
  await stopAnalysis();
  await suspendRecounts();
  closeReaders();
  closeAuditor();
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
  const standing = register.running.get(surveyId)?.standing() ?? null;
  const { page: pages, picture: pictures } = standing?.tally ?? (await tallyOf(surveyId));
  const done = await db
    .select({ address: visit.address })
    .from(visit)
    .where(and(eq(visit.surveyId, surveyId), eq(visit.kind, 'page'), eq(visit.state, 'done')))
    .orderBy(sql`settled_at desc nulls last`)
    .limit(RECENT);
  const recent = [
    ...(standing?.inHand ?? []).map((address: string) => ({ address, state: 'reading' as const })),
    ...done.map(({ address }) => ({ address, state: 'done' as const })),
  ].slice(0, RECENT);
  const isAnalysing = await analysisProgress(row.survey.collectionId);
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
    ...isAnalysing,
  };
}

async function tallyOf(surveyId: number): Promise<DatabaseStore['standing']['tally']> {
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

/** Resolves when a survey is over, or at once when it does not run. */
export async function surveyOver(surveyId: number): Promise<void> {
  await register.running.get(surveyId)?.finished;
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

/** What of the account is shown, as its address says it. */
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

/** A part of the account of every address that a survey has met. */
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

/** Lines of the account from one on, in the order in which the addresses were met. */
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

/** Calls back whenever something changed; the function it gives ends that. */
export function watchSurvey(surveyId: number, changed: () => void): () => void {
  const events = register.running.get(surveyId)?.events;
  events?.on('changed', changed);
  return () => events?.off('changed', changed);
}
