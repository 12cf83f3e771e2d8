import { UserError } from '@/core/model/user-error';
import { and, asc, eq, isNotNull, sql } from 'drizzle-orm';
import { documentContextOf } from '@/core/house-style/house-style';
import { weightOf, type Message } from '@/core/model/message';
import { Scope } from '@/contract/scope';
import { collectionById, type Collection } from '../catalogue/collections';
import { config } from '../config';
import { database } from '../db/database';
import { survey, visit } from '../db/schema';
import { DiskFullError, ensureRoom, meansDiskFull } from '../disk';
import { requestStop } from '../jobs/progress';
import { enqueue, transactionWithJobs } from '../jobs/queue';
import type { EndReason, JobContext } from '../jobs/worker';
import { log, messageOf, reasonOf } from '../log';
import { sharedReaders } from '../workers/reader-pool';
import { DatabaseStore } from './database-store';
import { openRenderer, openSource } from './open-source';
import { SurveyRun } from './survey-run';
import { Skipped } from './source';

/** Pages in hand at a time. */
const CONCURRENCY = 4;

/**
 * Begins a survey in the background; one that runs for the collection already goes on instead.
 *
 * @returns the id of the survey
 * @throws Error in words when there is no such collection
 */
export async function startSurvey(collectionId: string): Promise<number> {
  if (!(await collectionById(collectionId))) throw new UserError('There is no such collection.');
  return transactionWithJobs(collectionId, async (tx) => {
    const [active] = await tx
      .select({ id: survey.id })
      .from(survey)
      .where(and(eq(survey.collectionId, collectionId), eq(survey.state, 'running')));
    if (active) return active.id;
    const [row] = await tx.insert(survey).values({ collectionId, state: 'running' }).returning({ id: survey.id });
    await enqueue('survey', { collectionId, surveyId: row!.id }, { tx });
    return row!.id;
  });
}

/** Whether a survey of a collection is under way, or what it found is still being checked. */
export async function isSurveying(collectionId: string): Promise<boolean> {
  const db = await database();
  const mine = and(eq(survey.collectionId, collectionId), eq(survey.state, 'running'));
  return (await db.$count(survey, mine)) > 0;
}

/** Goes on with a survey that was stopped, from where it was. */
export async function resumeSurvey(surveyId: number): Promise<void> {
  const db = await database();
  const [known] = await db.select({ collectionId: survey.collectionId }).from(survey).where(eq(survey.id, surveyId));
  if (!known) return;
  await transactionWithJobs(known.collectionId, async (tx) => {
    const [row] = await tx
      .update(survey)
      .set({ state: 'running', phase: 'gathering', message: null, finishedAt: null, starts: 0, reading: [] })
      .where(and(eq(survey.id, surveyId), sql`${survey.state} <> 'running'`))
      .returning({ collectionId: survey.collectionId });
    if (row) await enqueue('survey', { collectionId: row.collectionId, surveyId }, { tx });
  });
}

/** Stops at the next page; what was read stays, and the survey can go on later. */
export async function stopSurvey(surveyId: number): Promise<void> {
  const db = await database();
  const [row] = await db.select({ collectionId: survey.collectionId }).from(survey).where(eq(survey.id, surveyId));
  if (!row) return;
  await requestStop('survey', row.collectionId);
  await surveyOver(surveyId);
}

/** Milliseconds between two looks at a survey that somebody waits for. */
const LOOK_MS = 50;

/** Resolves when a survey does not run any more. */
export async function surveyOver(surveyId: number): Promise<void> {
  const db = await database();
  for (;;) {
    const [row] = await db.select({ state: survey.state }).from(survey).where(eq(survey.id, surveyId));
    if (row?.state !== 'running') return;
    await pause(LOOK_MS);
  }
}

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** Starts without a settled page in between after which a survey is not taken up again by itself. */
const MOST_STARTS = 2;

/**
 * Gathers what a survey has not gathered yet. What goes wrong is written into the survey's own row.
 *
 * @returns whether there is something to audit
 */
export async function gather(surveyId: number, job: JobContext): Promise<boolean> {
  const db = await database();
  const [row] = await db.select().from(survey).where(eq(survey.id, surveyId));
  const c = row ? await collectionById(row.collectionId) : null;
  if (!row || !c) return false;
  // Killed after it was stopped, it stays stopped; what it gathered is audited all the same.
  if (row.state !== 'running') return row.phase === 'auditing';
  if (row.starts >= MOST_STARTS) {
    await waitForEditor(surveyId, row.reading);
    return false;
  }
  const { signal } = job;
  const isSuspended = () => signal.reason === ('suspended' satisfies EndReason);
  try {
    const { dataDir, reserve } = config();
    await ensureRoom(dataDir, 0, reserve);
    await db
      .update(survey)
      .set({ starts: sql`${survey.starts} + 1` })
      .where(eq(survey.id, surveyId));
    await read(c, surveyId, job);
    if (isSuspended()) {
      await db.update(survey).set({ starts: 0, reading: [] }).where(eq(survey.id, surveyId));
      return false;
    }
    const state = signal.aborted ? 'stopped' : 'running';
    await db.update(survey).set({ state, phase: 'auditing' }).where(eq(survey.id, surveyId));
    return true;
  } catch (error) {
    const message = messageOf(error);
    log.error({ surveyId, message }, 'survey failed');
    // A full disk is no fault of the survey's: it goes on when there is room.
    const [state, text] = meansDiskFull(error)
      ? (['stopped', error instanceof DiskFullError ? nearlyFull(error) : FULL] as const)
      : (['failed', error instanceof Skipped ? error.reason : reasonOf(error)] as const);
    await retryUntilWritten(() => end(surveyId, state, text), signal);
    return false;
  }
}

/** Reads pages until nothing waits or the job is to end. */
async function read(c: Collection, surveyId: number, { signal, report }: JobContext): Promise<void> {
  const db = await database();
  const readers = sharedReaders();
  const source = await openSource(c, signal);
  const renderer = await openRenderer(c);
  const opening = DatabaseStore.open(db, c.id, surveyId, c.maxPages, (progress) => report(null, progress));
  try {
    const { reading } = Scope.parse(c.scope);
    const { frontMatter } = documentContextOf(c.style);
    const options = { maxDepth: c.maxDepth, concurrency: CONCURRENCY, signal, reading, renderer, frontMatter };
    await new SurveyRun(source, opening, readers, options).gather();
  } finally {
    await renderer?.close();
    await source.close();
  }
  const store = await opening;
  await store.finish();
  readers.rest();
  const summary = signal.aborted ? null : await store.conclude();
  if (summary) await db.update(survey).set({ summary }).where(eq(survey.id, surveyId));
}

/** Ends the surveys of a collection whose pages have been audited. */
export async function concludeSurveys(collectionId: string): Promise<void> {
  const db = await database();
  const rows = await db
    .select({ id: survey.id, state: survey.state })
    .from(survey)
    .where(and(eq(survey.collectionId, collectionId), eq(survey.phase, 'auditing')));
  for (const { id, state } of rows)
    if (state !== 'running') await end(id, 'stopped', null);
    else if (await hasRead(id)) await end(id, 'done', null);
    else await end(id, 'failed', await nothingRead(id));
}

/** Ends the surveys of a collection whose pages could not be audited. */
export async function failSurveys(collectionId: string, message: Message): Promise<void> {
  const db = await database();
  const rows = await db
    .select({ id: survey.id })
    .from(survey)
    .where(and(eq(survey.collectionId, collectionId), eq(survey.phase, 'auditing')));
  for (const { id } of rows) await end(id, 'failed', message);
}

/** Ends one survey that could not go on. */
export const failSurvey = (surveyId: number, message: Message): Promise<void> => end(surveyId, 'failed', message);

async function end(surveyId: number, state: 'stopped' | 'done' | 'failed', message: Message | null): Promise<void> {
  const db = await database();
  await db.update(survey).set({ state, phase: 'over', message, finishedAt: new Date() }).where(eq(survey.id, surveyId));
}

/** What ended the process twice would end it again. */
async function waitForEditor(surveyId: number, reading: readonly string[]): Promise<void> {
  const message: Message =
    reading.length > 0
      ? { id: 'survey.ended-twice', values: { addresses: reading.slice(0, 4) } }
      : { id: 'survey.ended-twice-before' };
  log.error({ surveyId, reading }, 'a survey is not resumed: the process ended twice at the same place');
  await end(surveyId, 'stopped', message);
}

const nearlyFull = ({ free, reserve }: DiskFullError): Message => ({
  id: 'survey.disk-nearly-full',
  values: { free: weightOf(free), reserve: weightOf(reserve) },
});
const FULL: Message = { id: 'survey.disk-full' };
/** Milliseconds after which what the database could not take is tried again. */
const RETRY_MS = 3000;

/** Tries until it works, as while the disk is full it may not; not any more when the process is about to end. */
async function retryUntilWritten(work: () => Promise<void>, signal: AbortSignal): Promise<void> {
  for (;;)
    try {
      return await work();
    } catch (error) {
      if (signal.aborted) throw error;
      await pause(RETRY_MS);
    }
}

async function hasRead(surveyId: number): Promise<boolean> {
  const db = await database();
  const [done] = await db
    .select({ address: visit.address })
    .from(visit)
    .where(and(eq(visit.surveyId, surveyId), eq(visit.kind, 'page'), eq(visit.state, 'done')))
    .limit(1);
  return done !== undefined;
}

async function nothingRead(surveyId: number): Promise<Message> {
  const db = await database();
  const [first] = await db
    .select({ address: visit.address, reason: visit.reason })
    .from(visit)
    .where(and(eq(visit.surveyId, surveyId), eq(visit.state, 'skipped'), isNotNull(visit.reason)))
    .orderBy(asc(visit.seq))
    .limit(1);
  if (first?.reason) return { id: 'survey.nothing-read', values: { address: first.address, reason: first.reason } };
  const [row] = await db.select({ collectionId: survey.collectionId }).from(survey).where(eq(survey.id, surveyId));
  const c = row ? await collectionById(row.collectionId) : null;
  return { id: c?.kind === 'site' ? 'survey.no-page' : 'survey.no-html' };
}
