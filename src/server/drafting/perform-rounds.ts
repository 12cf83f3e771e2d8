import { setTimeout as wait } from 'node:timers/promises';
import { and, asc, eq, inArray, lte, sql } from 'drizzle-orm';
import type { RoundState } from '@/contract/drafting';
import type { Message } from '@/core/model/message';
import { announceChange } from '../changes';
import { among } from '../db/bulk';
import { database, type Queryable } from '../db/database';
import { round, roundItem } from '../db/schema';
import { transactionWithJobs } from '../jobs/queue';
import { log, messageOf, reasonOf } from '../log';
import { DraftingError } from './drafting-error';
import { monthlyBudget } from './ledger';
import type { DraftRequest, DraftResult } from './drafter';
import { draftRequests } from './draft-requests';
import { judged, picturesAt, storeDrafts, textOf } from './drafts';
import { evidenceDraft } from './evidence-drafter';
import { faultsOf, inWordsForModel } from './faults';
import { backOff, ModelDrafter } from './model-drafter';
import { instructionsOf } from './prompts';
import { gateOf } from './service-gate';
import { expectedCost, hasConsent, serviceById, spentIn, spentThisMonth, type ServiceRow } from './services';

type RoundRow = typeof round.$inferSelect;
type Item = typeof roundItem.$inferSelect;

/** Items that the evidence drafter does at a time. */
const PORTION = 100;
/** Milliseconds between two looks at what a person has asked of a round meanwhile. */
const LOOK_MS = 400;
/** Attempts at one picture while a service fails. */
const ATTEMPTS = 4;
/** Pictures after one another that a service fails at before a round waits for a person. */
const STREAK = 6;
/** Requests that are prepared beyond those that may run at once. */
const AHEAD = 2;

/**
 * Does what is left of the rounds of a collection that run, several at a time. It goes on where an earlier process ended:
 * what was asked then and not answered is asked again, under the same key.
 */
export async function performRounds(
  collectionId: string,
  { signal, report }: { signal: AbortSignal; report?(share: number): void },
): Promise<void> {
  const db = await database();
  const active = new Map<number, Promise<void>>();
  for (;;) {
    const rows = await db
      .select()
      .from(round)
      .where(and(eq(round.collectionId, collectionId), eq(round.state, 'running')))
      .orderBy(round.id);
    for (const row of signal.aborted ? [] : rows)
      if (!active.has(row.id))
        active.set(
          row.id,
          performRound(row, signal, report)
            .catch((error: unknown) => giveUp(row, error, signal))
            .finally(() => active.delete(row.id)),
        );
    if (active.size === 0) return;
    await Promise.race([...active.values(), wait(LOOK_MS * 2)]);
  }
}

/** What nobody foresaw ends no other round; a person sees it, and may go on. */
async function giveUp(row: RoundRow, error: unknown, signal: AbortSignal): Promise<void> {
  if (signal.aborted) return;
  log.error({ roundId: row.id, message: messageOf(error) }, 'a round failed');
  await close(row, 'paused', { id: 'round.failed', values: { message: reasonOf(error) } });
}

async function performRound(row: RoundRow, signal: AbortSignal, report?: (share: number) => void): Promise<void> {
  const db = await database();
  // What was under way when the process ended.
  await db
    .update(roundItem)
    .set({ state: 'waiting' })
    .where(and(eq(roundItem.roundId, row.id), eq(roundItem.state, 'asking')));
  if (row.order.service === null) return performOffline(row, signal, report);
  const service = row.serviceId === null ? null : await serviceById(db, row.serviceId);
  if (!service) return close(row, 'paused', { id: 'round.no-service' });
  if (!(await hasConsent(db, row.collectionId, service.address)))
    return close(row, 'paused', { id: 'round.no-consent' });
  return new ServiceRound(row, service, signal, report).perform();
}

/** A round of the evidence drafter: in portions, because nothing is waited for. */
async function performOffline(row: RoundRow, signal: AbortSignal, report?: (share: number) => void): Promise<void> {
  const db = await database();
  while (!signal.aborted && (await stateOf(db, row.id)) === 'running') {
    const items = await claim(db, row.id, PORTION, 0);
    if (items.length === 0) return close(row, 'done', null);
    const requests = await requestsFor(db, row, items);
    const drafts = items.flatMap((item) => {
      const request = requests.get(item.appearanceIds[0]!);
      return request ? [{ item, request, draft: evidenceDraft(request, row.order.wanted) }] : [];
    });
    const kept = await judged(
      db,
      row.collectionId,
      drafts.map(({ item, ...d }) => ({ ...d, appearanceIds: item.appearanceIds })),
      false,
    );
    const drafted = new Set(kept.map((k) => k.appearanceIds[0]!));
    await transactionWithJobs(row.collectionId, async (tx) => {
      await storeDrafts(tx, row.collectionId, kept, row.act, row.id);
      const ids = (isDrafted: boolean) =>
        items.filter((i) => drafted.has(i.appearanceIds[0]!) === isDrafted).map((i) => i.id);
      await finish(tx, ids(true), 'drafted', null);
      await finish(tx, ids(false), 'silent', null);
    });
    announceChange({ collectionId: row.collectionId, pictures: null });
    report?.(await shareOf(db, row.id));
  }
}

/** A round that asks a service: as many requests at once as that allows, each kept as soon as it is answered. */
class ServiceRound {
  private readonly active = new Set<Promise<void>>();
  private readonly own = new AbortController();
  private streak = 0;
  /** Why it has to wait for a person. */
  private stop: Message | null = null;

  constructor(
    private readonly row: RoundRow,
    private readonly service: ServiceRow,
    private readonly signal: AbortSignal,
    private readonly report?: (share: number) => void,
  ) {}

  async perform(): Promise<void> {
    const { row, service, signal, active } = this;
    const db = await database();
    const { label } = await instructionsOf(db, row.collectionId);
    const end = () => this.own.abort(signal.reason);
    signal.addEventListener('abort', end, { once: true });
    let state: RoundState = 'running';
    try {
      for (;;) {
        state = signal.aborted ? 'running' : await stateOf(db, row.id);
        if (signal.aborted || state !== 'running' || this.stop) break;
        const room = service.atOnce + AHEAD - active.size;
        const reserved = room > 0 ? await this.reserve(db, room) : 0;
        const items = reserved > 0 ? await claim(db, row.id, reserved, 0) : [];
        const later = items.length === 0 && reserved > 0 ? await claimAdapted(db, row, reserved) : [];
        const taken = [...items, ...later];
        gateOf(service).reserved -= reserved - taken.length;
        for (const item of taken) this.begin(item, label);
        if (active.size === 0) {
          if (reserved === 0) this.stop ??= await this.unpaid(db);
          else if (taken.length === 0) break;
          continue;
        }
        await Promise.race([...active, wait(LOOK_MS)]);
      }
      // A stop is for now, a pause lets what was asked be answered.
      if (state === 'stopped') this.own.abort();
      await Promise.allSettled(active);
    } finally {
      signal.removeEventListener('abort', end);
    }
    if (signal.aborted || state !== 'running') return;
    if (this.stop) return close(row, 'paused', this.stop);
    const waiting = await countOf(db, row.id, ['waiting']);
    return waiting > 0
      ? close(row, 'paused', { id: 'round.look-alikes', values: { n: waiting } })
      : close(row, 'done', null);
  }

  /**
   * Reserves so many drafts as stay within the budgets, of the round and of the month, with all that are under way; each may
   * take two requests.
   *
   * @returns how many of `most`
   */
  private async reserve(db: Queryable, most: number): Promise<number> {
    const { row, service, active } = this;
    const { budget } = row.order;
    const gate = gateOf(service);
    const each = 2 * (await expectedCost(db, service));
    const spent = budget === null ? 0 : await spentIn(db, row.id);
    const inMonth = service.monthlyBudget === null ? 0 : await spentThisMonth(db, service.id);
    // From here on nothing is waited for, so that two rounds do not reserve the same.
    const left = (of: number | null, used: number, underWay: number) =>
      of === null || each === 0 ? Infinity : Math.floor((of - used) / each) - underWay;
    const n = Math.max(
      0,
      Math.min(most, left(budget, spent, active.size), left(service.monthlyBudget, inMonth, gate.reserved)),
    );
    gate.reserved += n;
    return n;
  }

  /** Which budget does not allow another draft. */
  private async unpaid(db: Queryable): Promise<Message> {
    const { row, service } = this;
    const { budget } = row.order;
    const each = 2 * (await expectedCost(db, service));
    const isOwn = budget !== null && (await spentIn(db, row.id)) + each > budget;
    return isOwn
      ? { id: 'round.budget', values: { budget, currency: service.currency } }
      : { id: 'round.monthly-budget', values: { budget: service.monthlyBudget ?? 0, currency: service.currency } };
  }

  private begin(item: Item, label: string): void {
    const flight = this.one(item, label)
      .catch(async (error: unknown) => {
        if (this.own.signal.aborted) return putBack(item);
        log.error({ roundId: this.row.id, message: messageOf(error) }, 'a draft could not be kept');
        this.stop ??= { id: 'round.failed', values: { message: reasonOf(error) } };
        await putBack(item);
      })
      .finally(() => {
        gateOf(this.service).reserved--;
        this.active.delete(flight);
      });
    this.active.add(flight);
  }

  private async one(item: Item, label: string): Promise<void> {
    const { row, own } = this;
    const db = await database();
    const [request] = await draftRequests(db, row.collectionId, [item.appearanceIds[0]!]);
    if (!request) return finish(db, [item.id], 'silent', null);
    let draft: DraftResult;
    try {
      draft = await this.draft(item, request, label);
    } catch (error) {
      if (own.signal.aborted || !(error instanceof DraftingError)) throw error;
      log.warn({ roundId: row.id, code: error.code }, 'a drafter failed');
      if (error.concernsAll) {
        this.stop ??= error.reason;
        return putBack(item);
      }
      if (error.mayPass && ++this.streak >= STREAK) this.stop ??= error.reason;
      return finish(db, [item.id], 'failed', error.reason);
    }
    this.streak = 0;
    const kept = await judged(db, row.collectionId, [{ request, draft, appearanceIds: item.appearanceIds }], false);
    await transactionWithJobs(row.collectionId, async (tx) => {
      await storeDrafts(tx, row.collectionId, kept, row.act, row.id);
      await finish(tx, [item.id], kept.length > 0 ? 'drafted' : 'silent', null, draft.origin.cost);
    });
    announceChange({ collectionId: row.collectionId, pictures: await picturesAt(db, item.appearanceIds) });
    this.report?.(await shareOf(db, row.id));
  }

  /** What decorates is not asked about. A service that is busy or fails is asked again, later each time. */
  private async draft(item: Item, request: DraftRequest, label: string): Promise<DraftResult> {
    const { row, service, own } = this;
    const { purpose, purposeIsSure } = request.known;
    if (purpose === 'decorative' && purposeIsSure) return evidenceDraft(request);
    const drafter = new ModelDrafter({
      ...{ service, collectionId: row.collectionId, roundId: row.id, prompt: label },
      ledger: monthlyBudget,
      faultsOf: async (of, draft) => {
        const text = textOf(draft);
        if (text === null) return [];
        const [faults] = await faultsOf(
          await database(),
          row.collectionId,
          [{ appearanceId: of.appearanceId, text }],
          false,
        );
        return inWordsForModel(text, faults ?? []);
      },
    });
    const current = row.order.existing === 'improve' ? request.current : null;
    const wish = {
      key: `detto-${row.act}-${item.id}-${item.retries}`,
      priority: 0,
      hint: null,
      wanted: row.order.wanted,
      current,
    };
    for (let attempt = 1, holds = 0; ;) {
      try {
        return await drafter.draft(request, wish, own.signal);
      } catch (error) {
        if (own.signal.aborted || this.stop || !(error instanceof DraftingError) || !error.mayPass) throw error;
        // To be asked to wait is no failure, unless it never ends.
        const isHold = error.code === 'busy';
        if (isHold ? ++holds > MOST_HOLDS : ++attempt > ATTEMPTS) throw error;
        if (!isHold) await backOff(attempt, own.signal);
        own.signal.throwIfAborted();
      }
    }
  }
}

/** Times that a service may ask one picture to wait. */
const MOST_HOLDS = 40;

async function stateOf(db: Queryable, id: number): Promise<RoundState> {
  const [row] = await db.select({ state: round.state }).from(round).where(eq(round.id, id));
  return row?.state ?? 'stopped';
}

/** Takes items that wait, at most so many; they count as asked from now on. */
async function claim(db: Queryable, id: number, most: number, rank: number): Promise<Item[]> {
  if (most <= 0) return [];
  const next = db
    .select({ id: roundItem.id })
    .from(roundItem)
    .where(and(eq(roundItem.roundId, id), eq(roundItem.state, 'waiting'), lte(roundItem.rank, rank)))
    .orderBy(asc(roundItem.rank), asc(roundItem.id))
    .limit(most);
  return claimed(
    db,
    (await next).map((n) => n.id),
  );
}

/** Takes items of look-alikes of which one is worded by now. */
async function claimAdapted(db: Queryable, row: RoundRow, most: number): Promise<Item[]> {
  if (most <= 0) return [];
  const rows = (
    (await db.execute(sql`
      select i.id from round_item i
      join appearance a on a.id = i.appearance_ids[1] join picture p on p.id = a.picture_id
      where i.round_id = ${row.id} and i.state = 'waiting' and i.rank > 0 and exists (
        select from appearance x join picture y on y.id = x.picture_id
        where y.collection_id = ${row.collectionId} and y.similar_group = p.similar_group and not x.gone and x.words <> '')
      order by i.id limit ${most}`)) as unknown as { rows: { id: number }[] }
  ).rows;
  return claimed(
    db,
    rows.map((r) => r.id),
  );
}

async function claimed(db: Queryable, ids: readonly number[]): Promise<Item[]> {
  if (ids.length === 0) return [];
  return db
    .update(roundItem)
    .set({ state: 'asking' })
    .where(and(among(roundItem.id, ids), eq(roundItem.state, 'waiting')))
    .returning();
}

async function putBack(item: Item): Promise<void> {
  const db = await database();
  await db
    .update(roundItem)
    .set({ state: 'waiting' })
    .where(and(eq(roundItem.id, item.id), eq(roundItem.state, 'asking')));
}

async function finish(
  tx: Queryable,
  ids: readonly number[],
  state: 'drafted' | 'silent' | 'failed',
  reason: Message | null,
  cost = 0,
): Promise<void> {
  if (ids.length === 0) return;
  await tx.update(roundItem).set({ state, reason, cost, finishedAt: new Date() }).where(among(roundItem.id, ids));
}

/** Ends a round for now or for good, unless a person has done that meanwhile. */
async function close({ id, collectionId }: RoundRow, state: 'paused' | 'done', reason: Message | null): Promise<void> {
  const db = await database();
  await db
    .update(round)
    .set({ state, reason, finishedAt: state === 'done' ? new Date() : null })
    .where(and(eq(round.id, id), eq(round.state, 'running')));
  announceChange({ collectionId, pictures: [] });
}

const countOf = async (db: Queryable, id: number, states: Item['state'][]): Promise<number> => {
  const [row] = await db
    .select({ n: sql`count(*)`.mapWith(Number) })
    .from(roundItem)
    .where(and(eq(roundItem.roundId, id), inArray(roundItem.state, states)));
  return row!.n;
};

async function shareOf(db: Queryable, id: number): Promise<number> {
  const done = await countOf(db, id, ['drafted', 'silent', 'failed']);
  return done / Math.max(1, done + (await countOf(db, id, ['waiting', 'asking'])));
}

async function requestsFor(db: Queryable, row: RoundRow, items: readonly Item[]): Promise<Map<number, DraftRequest>> {
  const requests = await draftRequests(
    db,
    row.collectionId,
    items.map((i) => i.appearanceIds[0]!),
  );
  return new Map(requests.map((r) => [r.appearanceId, r]));
}
