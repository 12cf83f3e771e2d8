import { UserError } from '@/core/model/user-error';
import { randomUUID } from 'node:crypto';
import { and, desc, eq, inArray, sql } from 'drizzle-orm';
import type { Round, RoundEstimate, RoundLeftOut, RoundOrder, RoundState } from '@/contract/drafting';
import { likeContexts, type PlaceContext } from '@/core/draft/like-contexts';
import { composePrompt } from '@/core/draft/prompt';
import type { Message } from '@/core/model/message';
import { groupBy } from '@/core/group-by';
import { announceChange } from '../changes';
import { among, insertRows } from '../db/bulk';
import { database, type Queryable } from '../db/database';
import { appearance, draftingCall, page, picture, round, roundItem, wording } from '../db/schema';
import { enqueue, transactionWithJobs } from '../jobs/queue';
import { placesOf } from '../wordings/targets';
import { draftRequests } from './draft-requests';
import { hostOf } from './service-address';
import { expectedCost, giveConsent, hasConsent, serviceById, type ServiceRow } from './services';

/** Formats that a picture may have to be sent to a service. */
const SENDABLE = new Set(['image/avif', 'image/webp', 'image/png', 'image/jpeg', 'image/gif', 'image/svg+xml']);
/** Look-alikes from which the best is worded first, and the others after it. */
const SERIES = 3;
/** Places that are read at a time. */
const PORTION = 2_000;
/** UTF-16 code units beside a picture by which contexts are compared. */
const BESIDE = 120;
/** Seconds that a service takes for an answer, where nothing is known of it (common practice). */
const USUAL_SECONDS = 6;
/** Drafts a second of the evidence drafter (measured in docs/benchmarks.md). */
const EVIDENCE_PER_SECOND = 150;

interface PlannedPlace extends PlaceContext {
  rank: number;
}

interface RoundPlan {
  parts: PlannedPlace[][];
  leftOut: Map<RoundLeftOut, number>;
  languages: Map<string | null, number>;
}

/** Which places a round is for, parted into what one answer serves, and which not, with the reason. */
async function planRound(collectionId: string, order: RoundOrder): Promise<RoundPlan> {
  const db = await database();
  const all = (await placesOf(collectionId, order.target)).map((p) => p.id);
  const places: PlannedPlace[] = [];
  const leftOut = new Map<RoundLeftOut, number>();
  const languages = new Map<string | null, number>();
  const out = (why: RoundLeftOut) => leftOut.set(why, (leftOut.get(why) ?? 0) + 1);
  for (let i = 0; i < all.length; i += PORTION)
    for (const row of await placeRows(db, all.slice(i, i + PORTION))) {
      const why = refusal(row, order);
      if (why !== null) {
        out(why);
        continue;
      }
      languages.set(row.language, (languages.get(row.language) ?? 0) + 1);
      if (order.languages.length > 0 && !order.languages.includes(row.language ?? '')) {
        out('language');
        continue;
      }
      const isLater = (row.similarCount ?? 0) >= SERIES && (row.similarRank ?? 0) > 1;
      places.push({ ...row, rank: isLater ? 1 : 0 });
    }
  const parts = likeContexts(places) as PlannedPlace[][];
  return { parts, leftOut, languages };
}

function placeRows(db: Queryable, ids: readonly number[]) {
  const context = (key: string) => sql<string | null>`${appearance.reading}->'context'->>${sql.raw(`'${key}'`)}`;
  return db
    .select({
      id: appearance.id,
      picture: appearance.pictureId,
      purpose: appearance.purpose,
      state: appearance.state,
      element: sql<string>`${appearance.reading}->>'element'`,
      language: sql<string | null>`coalesce(${context('lang')}, ${page.lang})`,
      target: sql<string | null>`coalesce(${appearance.target}, ${appearance.reading}->'context'->'control'->>'href')`,
      region: context('region'),
      caption: context('caption'),
      heading: sql<string | null>`${appearance.reading}->'context'->'headings'->>-1`,
      beside: sql<string>`right(coalesce(${context('before')}, ''), ${BESIDE}) || ' ' || left(coalesce(${context('after')}, ''), ${BESIDE})`,
      type: picture.type,
      sha256: picture.sha256,
      isBroken: sql<boolean>`${picture.broken} is not null`,
      similarCount: picture.similarCount,
      similarRank: picture.similarRank,
      hasDraft: sql<boolean>`exists (select from wording w where w.appearance_id = ${appearance.id} and w.state = 'draft')`,
    })
    .from(appearance)
    .innerJoin(picture, eq(picture.id, appearance.pictureId))
    .innerJoin(page, eq(page.id, appearance.pageId))
    .where(among(appearance.id, ids))
    .orderBy(desc(picture.urgency), picture.id, appearance.id);
}

type PlaceRow = Awaited<ReturnType<typeof placeRows>>[number];

/** Elements that have no attribute for words, as `takesNoWords` has them. */
const WORDLESS = new Set(['poster', 'css-background', 'source']);

function refusal(row: PlaceRow, order: RoundOrder): RoundLeftOut | null {
  if (WORDLESS.has(row.element)) return 'no-words';
  if (row.state === 'decorative') return 'decorative';
  if (row.state === 'described' && order.existing === 'keep') return 'has-text';
  if (row.hasDraft && order.existing === 'keep') return 'has-draft';
  if (order.service === null) return null;
  if (row.isBroken || row.sha256 === null) return 'broken';
  return row.type !== null && SENDABLE.has(row.type) ? null : 'format';
}

/** @throws Error in words when an order names a service that is not there */
async function serviceOf(tx: Queryable, order: RoundOrder): Promise<ServiceRow | null> {
  if (order.service === null) return null;
  const service = await serviceById(tx, order.service);
  if (!service) throw new UserError('The service was removed. Choose another drafter.');
  return service;
}

/** What a round would do, cost and send; nothing is sent for it. */
export async function estimateRound(collectionId: string, order: RoundOrder): Promise<RoundEstimate> {
  const db = await database();
  const service = await serviceOf(db, order);
  const { parts, leftOut, languages } = await planRound(collectionId, order);
  const places = parts.reduce((sum, p) => sum + p.length, 0);
  const perSecond = service ? Math.min(service.perMinute / 60, service.atOnce / USUAL_SECONDS) : EVIDENCE_PER_SECOND;
  const each = service ? await expectedCost(db, service) : 0;
  return {
    pictures: new Set(parts.map((p) => p[0]!.picture)).size,
    places,
    requests: parts.length,
    leftOut: [...leftOut].map(([why, n]) => ({ why, places: n })),
    languages: [...languages].map(([language, n]) => ({ language, places: n })),
    seconds: Math.ceil(parts.length / perSecond),
    // Where a rule finds something in an answer, it is asked for once more.
    cost: service && { from: each * parts.length, to: 2 * each * parts.length, currency: service.currency },
    sends: service && parts[0] ? await sendsOf(db, collectionId, order, service, parts[0][0]!) : null,
    needsConsent: service !== null && !(await hasConsent(db, collectionId, service.address)),
  };
}

async function sendsOf(
  db: Queryable,
  collectionId: string,
  order: RoundOrder,
  service: ServiceRow,
  first: PlannedPlace,
): Promise<RoundEstimate['sends']> {
  const [request] = await draftRequests(db, collectionId, [first.id]);
  if (!request) return null;
  const current = order.existing === 'improve' ? request.current : null;
  const prompt = composePrompt({
    ...request.about,
    ...{ known: request.known, hint: null, faults: [], wanted: order.wanted, current },
  });
  const { width, height } = request.known.picture ?? {};
  const scale = Math.min(1, service.maxSide / Math.max(width ?? service.maxSide, height ?? 1));
  return {
    host: hostOf(service.address),
    words: prompt.contextWords,
    width: Math.round((width ?? service.maxSide) * scale),
    height: Math.round((height ?? service.maxSide) * scale),
    prompt: `${prompt.system}\n\n${prompt.user}`,
    picture: first.picture,
  };
}

/**
 * Starts a round in the background.
 *
 * @param consents whether whoever starts it agrees that pictures are sent to the service's host
 * @throws Error in words when there is nothing to draft, or nobody has agreed to what would be sent
 */
export async function startRound(collectionId: string, order: RoundOrder, consents: boolean): Promise<number> {
  const db = await database();
  const service = await serviceOf(db, order);
  if (service && !(await hasConsent(db, collectionId, service.address))) {
    const host = hostOf(service.address);
    if (!consents) throw new UserError(`Pictures would be sent to ${host}. Agree to that first.`);
    await giveConsent(collectionId, host);
  }
  const { parts } = await planRound(collectionId, order);
  if (parts.length === 0) throw new UserError('There is nothing to draft here.');
  return transactionWithJobs(collectionId, async (tx) => {
    const [row] = await tx
      .insert(round)
      .values({
        ...{ collectionId, order, act: randomUUID(), serviceId: service?.id ?? null },
        ...{ drafter: service?.name ?? null, model: service?.model ?? null, currency: service?.currency ?? null },
      })
      .returning({ id: round.id });
    await insertRows(
      tx,
      roundItem,
      parts.map((part) => ({
        roundId: row!.id,
        appearanceIds: part.map((p) => p.id),
        rank: service ? part[0]!.rank : 0,
      })),
    );
    await enqueue('rounds', { collectionId }, { tx });
    return row!.id;
  });
}

/** Lets a round wait: requests that are under way are finished, no more begin. */
export const pauseRound = (collectionId: string, id: number): Promise<void> =>
  // It may have paused by itself before the editor did.
  turn(collectionId, id, ['running', 'paused'], 'paused', { id: 'round.by-editor' });

/** Goes on with a round that waits; what an earlier error left undone is asked again. */
export async function resumeRound(collectionId: string, id: number): Promise<void> {
  const db = await database();
  const [own] = await db
    .select({ reason: round.reason })
    .from(round)
    .where(and(eq(round.id, id), eq(round.collectionId, collectionId)));
  // Whoever goes on with what waits for words of look-alikes wants it without them.
  if (own?.reason?.id === 'round.look-alikes') await db.update(roundItem).set({ rank: 0 }).where(waitingIn(id));
  await turn(collectionId, id, ['paused', 'running'], 'running', null);
  await enqueue('rounds', { collectionId });
}

/** Ends a round for good; what was drafted stays. */
export const stopRound = (collectionId: string, id: number): Promise<void> =>
  turn(collectionId, id, ['running', 'paused'], 'stopped', null);

/** Asks again for what a round could not draft. */
export async function retryFailures(collectionId: string, id: number): Promise<void> {
  const db = await database();
  await turn(collectionId, id, ['paused', 'done', 'stopped'], 'running', null);
  await db
    .update(roundItem)
    .set({ state: 'waiting', reason: null, retries: sql`${roundItem.retries} + 1` })
    .where(and(eq(roundItem.roundId, id), eq(roundItem.state, 'failed')));
  await enqueue('rounds', { collectionId });
}

const waitingIn = (id: number) => and(eq(roundItem.roundId, id), eq(roundItem.state, 'waiting'));

async function turn(
  collectionId: string,
  id: number,
  from: RoundState[],
  to: RoundState,
  reason: Message | null,
): Promise<void> {
  const db = await database();
  const turned = await db
    .update(round)
    .set({ state: to, reason, finishedAt: to === 'stopped' ? new Date() : null })
    .where(and(eq(round.id, id), eq(round.collectionId, collectionId), inArray(round.state, from)))
    .returning({ id: round.id });
  if (turned.length === 0) throw new UserError('The round is over or gone. Load the page again.');
  announceChange({ collectionId, pictures: [] });
}

/** Rounds of a collection that wait for words of look-alikes go on where there are some now. */
export async function wakeRounds(collectionId: string): Promise<void> {
  const db = await database();
  const woken = await db
    .update(round)
    .set({ state: 'running', reason: null })
    .where(
      and(
        eq(round.collectionId, collectionId),
        eq(round.state, 'paused'),
        sql`${round.reason}->>'id' = 'round.look-alikes'`,
      ),
    )
    .returning({ id: round.id });
  if (woken.length > 0) await enqueue('rounds', { collectionId });
}

/** The rounds of a collection, the latest first. */
export async function listRounds(collectionId: string): Promise<Round[]> {
  const db = await database();
  const rows = await db
    .select({ round })
    .from(round)
    .where(eq(round.collectionId, collectionId))
    .orderBy(desc(round.id))
    .limit(200);
  if (rows.length === 0) return [];
  const ids = rows.map((r) => r.round.id);
  const items = await db
    .select({
      roundId: roundItem.roundId,
      state: roundItem.state,
      reason: roundItem.reason,
      n: sql`count(*)`.mapWith(Number),
      late: sql`count(*) filter (where ${roundItem.finishedAt} > now() - interval '2 minutes')`.mapWith(Number),
    })
    .from(roundItem)
    .where(inArray(roundItem.roundId, ids))
    .groupBy(roundItem.roundId, roundItem.state, roundItem.reason);
  const spent = await db
    .select({ roundId: draftingCall.roundId, spent: sql`sum(${draftingCall.cost})`.mapWith(Number) })
    .from(draftingCall)
    .where(inArray(draftingCall.roundId, ids))
    .groupBy(draftingCall.roundId);
  const drafts = await db
    .select({
      roundId: wording.roundId,
      toRead: sql`count(*) filter (where ${wording.state} = 'draft')`.mapWith(Number),
      accepted:
        sql`count(*) filter (where ${wording.state} = 'accepted' and (${wording.draft}->'accepted'->>'changed')::float8 = 0)`.mapWith(
          Number,
        ),
      edited:
        sql`count(*) filter (where ${wording.state} = 'accepted' and (${wording.draft}->'accepted'->>'changed')::float8 > 0)`.mapWith(
          Number,
        ),
      rejected: sql`count(*) filter (where ${wording.state} = 'rejected' and ${wording.draft} ? 'rejected')`.mapWith(
        Number,
      ),
    })
    .from(wording)
    .where(inArray(wording.roundId, ids))
    .groupBy(wording.roundId);
  const byRound = groupBy(items, (i) => i.roundId);
  return rows.map(({ round: r }) => {
    const own = byRound.get(r.id) ?? [];
    const count = (...states: string[]) => own.filter((i) => states.includes(i.state)).reduce((sum, i) => sum + i.n, 0);
    const read = drafts.find((d) => d.roundId === r.id);
    const late = own.reduce((sum, i) => sum + i.late, 0);
    const minutes = Math.min(2, Math.max(0.1, (Date.now() - r.at.getTime()) / 60_000));
    return {
      id: r.id,
      state: r.state,
      reason: r.reason,
      drafter: r.drafter,
      model: r.model,
      act: r.act,
      at: r.at.toISOString(),
      finishedAt: r.finishedAt?.toISOString() ?? null,
      total: count('waiting', 'asking', 'drafted', 'silent', 'failed'),
      done: count('drafted', 'silent', 'failed'),
      drafted: count('drafted'),
      silent: count('silent'),
      failures: own.flatMap((i) => (i.state === 'failed' && i.reason ? [{ reason: i.reason, items: i.n }] : [])),
      spent: spent.find((s) => s.roundId === r.id)?.spent ?? 0,
      budget: r.order.budget,
      currency: r.currency,
      perMinute: late > 0 ? Math.round(late / minutes) : null,
      toRead: read?.toRead ?? 0,
      accepted: read?.accepted ?? 0,
      edited: read?.edited ?? 0,
      rejected: read?.rejected ?? 0,
    };
  });
}
