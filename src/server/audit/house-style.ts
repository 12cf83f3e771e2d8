import { eq, sql } from 'drizzle-orm';
import type { RuleStyle } from '@/core/audit';
import { changedRules } from '@/core/house-style/house-style';
import { database } from '../db/database';
import { appearance, collection, finding } from '../db/schema';
import { log, messageOf } from '../log';
import { auditAll, auditChanged, countPhrases } from './audit';

interface Recount {
  /** From 0 to 1. */
  share: number;
  finished: Promise<void>;
}

const shared = globalThis as typeof globalThis & { dettoRecounts?: Map<string, Recount> };
/** What is being audited anew, by collection, across the bundles that Next makes of the server. */
const recounts = (shared.dettoRecounts ??= new Map<string, Recount>());

/** Keeps a house style; what it changes is found anew in the background. */
export async function saveHouseStyle(collectionId: string, style: RuleStyle): Promise<void> {
  const db = await database();
  await db.transaction(async (tx) => {
    const [row] = await tx
      .select({ before: collection.style, stale: collection.staleRules })
      .from(collection)
      .where(eq(collection.id, collectionId));
    if (!row) return;
    const staleRules = [...new Set([...row.stale, ...changedRules(row.before, style)])];
    await tx.update(collection).set({ style, staleRules }).where(eq(collection.id, collectionId));
  });
  recount(collectionId);
}

/** Adds a word to those that the house knows, and asks anew where it was doubted. */
export async function acceptWord(collectionId: string, word: string): Promise<void> {
  const db = await database();
  await db.transaction(async (tx) => {
    const [row] = await tx.select({ style: collection.style }).from(collection).where(eq(collection.id, collectionId));
    if (!row) return;
    const own = row.style['misspelt'];
    const words = (own?.parameters?.['words'] as string[] | undefined) ?? [];
    const style = {
      ...row.style,
      misspelt: { ...own, parameters: { ...own?.parameters, words: [...new Set([...words, word])].sort() } },
    };
    await tx.update(collection).set({ style }).where(eq(collection.id, collectionId));
    const doubted = await tx
      .selectDistinct({ id: finding.appearanceId })
      .from(finding)
      .innerJoin(appearance, eq(appearance.id, finding.appearanceId))
      .where(
        sql`${finding.collectionId} = ${collectionId} and ${finding.rule} = 'misspelt'
          and position(lower(${word}) in lower(${finding.message})) > 0`,
      );
    await auditChanged(
      tx,
      collectionId,
      doubted.map((d) => d.id),
      [],
    );
  });
}

/** How much of what a change of the house style touches is found anew; null when nothing waits. */
export function recountShare(collectionId: string): number | null {
  return recounts.get(collectionId)?.share ?? null;
}

/** Finds anew what waits, unless that is under way; what is added meanwhile is found too. */
export function recount(collectionId: string): Promise<void> {
  const known = recounts.get(collectionId);
  if (known) return known.finished;
  const entry: Recount = { share: 0, finished: Promise.resolve() };
  recounts.set(collectionId, entry);
  entry.finished = auditStaleRules(collectionId, entry)
    .catch((error: unknown) => log.error({ collectionId, message: messageOf(error) }, 'recount failed'))
    .finally(() => recounts.delete(collectionId));
  return entry.finished;
}

async function auditStaleRules(collectionId: string, entry: Recount): Promise<void> {
  const db = await database();
  for (;;) {
    const [row] = await db
      .select({ stale: collection.staleRules, style: collection.style })
      .from(collection)
      .where(eq(collection.id, collectionId));
    if (!row || row.stale.length === 0) return;
    await auditAll(collectionId, { only: row.stale, progress: (share) => (entry.share = share) });
    // What was changed while this ran stays stale.
    const [now] = await db.select({ style: collection.style }).from(collection).where(eq(collection.id, collectionId));
    const again = now ? changedRules(row.style, now.style) : [];
    await db.update(collection).set({ staleRules: again }).where(eq(collection.id, collectionId));
  }
}

/** What a stop broke off goes on. */
export async function resumeRecounts(): Promise<void> {
  const db = await database();
  const rows = await db
    .select({ id: collection.id })
    .from(collection)
    .where(sql`cardinality(${collection.staleRules}) > 0`);
  for (const { id } of rows) void recount(id);
}

/** Milliseconds after the last change before phrases are counted anew. */
const QUIET = 3000;
const timers = new Map<string, NodeJS.Timeout>();

/** After words were changed: counts anew what opens or closes too many texts, once it is quiet. */
export function countPhrasesSoon(collectionId: string): void {
  clearTimeout(timers.get(collectionId));
  const timer = setTimeout(() => {
    timers.delete(collectionId);
    void (async () => {
      const db = await database();
      if (!(await countPhrases(db, collectionId))) return;
      await db
        .update(collection)
        .set({ staleRules: sql`array(select distinct unnest(${collection.staleRules} || array['boilerplate']))` })
        .where(eq(collection.id, collectionId));
      await recount(collectionId);
    })().catch((error: unknown) => log.error({ collectionId, message: messageOf(error) }, 'counting phrases failed'));
  }, QUIET);
  timer.unref();
  timers.set(collectionId, timer);
}

/** Ends what waits; the next start goes on. */
export async function suspendRecounts(): Promise<void> {
  for (const timer of timers.values()) clearTimeout(timer);
  timers.clear();
  await Promise.all([...recounts.values()].map(({ finished }) => finished));
}
