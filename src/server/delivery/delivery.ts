import { positionOf } from '@/core/model/appearance';
import { and, desc, eq, isNull, sql } from 'drizzle-orm';
import PQueue from 'p-queue';
import { decodedPath } from '@/core/formats/html/decoded-path';
import { formatById } from '@/core/formats';
import type { DeliveryPage } from '@/contract/delivery';
import { refusalFor } from '@/core/formats/html/patch';
import { withWords, writtenWords } from '@/core/model/wording';
import { plain, type Message } from '@/core/model/message';
import { readFile } from '../blobs/blobs';
import { messageOf } from '../log';
import { recordSteps } from '../catalogue/act-steps';
import type { Collection } from '../catalogue/collections';
import { announceChange } from '../changes';
import { among } from '../db/bulk';
import { database } from '../db/database';
import { appearance, conflict, delivery, page } from '../db/schema';
import { openSource } from '../survey/open-source';
import { Skipped, UNCHANGED } from '../survey/source';
import type { DeliveryTarget, PreparedDocument, Receipt } from './target';

const CONCURRENCY = 4;
const NOT_KEPT: Message = { id: 'left-out.not-kept' };

/** Works out every change that accepted words make to the pages as they are now. */
async function prepare(c: Collection): Promise<PreparedDocument[]> {
  const db = await database();
  const rows = await db
    .select({ appearance, page, open: conflict.id })
    .from(appearance)
    .innerJoin(page, eq(page.id, appearance.pageId))
    .leftJoin(conflict, and(eq(conflict.appearanceId, appearance.id), isNull(conflict.settledAt)))
    .where(and(eq(appearance.collectionId, c.id), eq(appearance.gone, false), sql`words is not null`))
    .orderBy(page.path, appearance.position);
  const byPage = new Map<number, typeof rows>();
  for (const row of rows) byPage.set(row.page.id, [...(byPage.get(row.page.id) ?? []), row]);
  const source = await openSource(c).catch((error: Error) => error);
  const queue = new PQueue({ concurrency: CONCURRENCY });
  try {
    return await Promise.all(
      [...byPage.values()].map((own) =>
        queue.add(async () => {
          const { page: p } = own[0]!;
          const kept = await readFile(p.source).catch(() => null);
          const before = kept ?? Buffer.alloc(0);
          const leftOut =
            source instanceof Error
              ? plain(source.message)
              : kept
                ? await changedSince(source, p.path, kept)
                : NOT_KEPT;
          // Nothing is delivered where somebody has to choose first.
          const conflicts = own
            .filter((o) => o.open !== null)
            .map(({ appearance: a }) => ({
              appearanceId: a.id,
              pictureId: a.pictureId,
              line: positionOf(a.reading).line,
            }));
          const aside = own
            .filter((o) => o.open === null && o.appearance.leftOut)
            .map(({ appearance: a }) => ({
              ...{ appearanceId: a.id, pictureId: a.pictureId, line: positionOf(a.reading).line },
              text: a.words!,
            }));
          const base = {
            ...{ path: p.path, title: p.title, file: fileFor(p.path), waiting: own.length },
            ...{ conflicts, aside, leftOut, before },
          };
          if (leftOut !== null) return { ...base, after: before, changes: [], refusals: [] };
          const settled = own.filter((o) => o.open === null && !o.appearance.leftOut);
          return { ...base, ...(await write(before, p.transport, settled)) };
        }),
      ),
    );
  } finally {
    if (!(source instanceof Error)) await source.close();
  }
}

/** Puts accepted words into a page, and reads it again to see that it says them. */
async function write(
  before: Buffer,
  transport: string | null,
  own: { appearance: typeof appearance.$inferSelect }[],
): Promise<Pick<PreparedDocument, 'after' | 'changes' | 'refusals'>> {
  const idOf = new Map(own.map(({ appearance: a }) => [a.position, { appearanceId: a.id, pictureId: a.pictureId }]));
  // What a browser or a style sheet added is not among the appearances that the source itself shows.
  const unwritable = own.flatMap(({ appearance: a }) => {
    const reason = refusalFor(a.reading);
    return reason ? [{ order: a.position, line: positionOf(a.reading).line, reason }] : [];
  });
  const writable = own.filter(({ appearance: a }) => refusalFor(a.reading) === null);
  const edits = writable.map(({ appearance: a }) => ({ order: a.position, text: a.words! }));
  const format = formatById('html');
  const context = transport ? { transport } : {};
  const patched = await format.write(before, edits, context);
  // The proof: what a reader of the new page gets is what was accepted.
  const again = (await format.read(patched.bytes, context)).appearances;
  const refusals = [...unwritable, ...patched.refusals].map((r) => ({ ...r, ...idOf.get(r.order)! }));
  const changes = patched.changes.map((change) => ({
    ...change,
    ...idOf.get(change.order)!,
    heard: again[change.order]?.accessible.name ?? '',
  }));
  for (const { appearance: a } of writable) {
    const wanted = writtenWords(withWords(a.reading, a.words!));
    const got = again[a.position] ? writtenWords(again[a.position]!) : null;
    if (got !== wanted && !refusals.some((r) => r.order === a.position))
      refusals.push({
        order: a.position,
        line: positionOf(a.reading).line,
        reason: { id: 'refusal.not-heard' },
        appearanceId: a.id,
        pictureId: a.pictureId,
      });
  }
  return { after: Buffer.from(patched.bytes), changes, refusals };
}

/** Why a page must not be overwritten; null when it is as it was surveyed. */
async function changedSince(
  source: Awaited<ReturnType<typeof openSource>>,
  path: string,
  surveyed: Buffer,
): Promise<Message | null> {
  try {
    const now = await source.page(path);
    if (now === UNCHANGED || now.bytes.equals(surveyed)) return null;
    return { id: 'left-out.changed' };
  } catch (error) {
    return {
      id: 'left-out.unreadable',
      values: { reason: error instanceof Skipped ? error.reason : plain(messageOf(error)) },
    };
  }
}

/** Where a page goes in the ZIP: a file's own path, an address as a server would keep it. */
export function fileFor(path: string): string {
  if (!/^https?:/.test(path)) return path;
  const url = new URL(path);
  let file = decodedPath(url.pathname).replace(/^\/+/, '').replace(/\\/g, '_');
  file = file
    .split('/')
    .filter((part) => part !== '..' && part !== '.')
    .join('/');
  if (file === '' || url.pathname.endsWith('/'))
    file = file === '' ? 'index.html' : `${file.replace(/\/$/, '')}/index.html`;
  else if (!/\.[a-z0-9]{1,5}$/i.test(file)) file += '.html';
  return url.search ? file.replace(/(\.[a-z0-9]+)$/i, `_${url.search.slice(1).replace(/[^\w=-]+/g, '_')}$1`) : file;
}

/** Every change, before it is taken. */
export async function previewDelivery(c: Collection): Promise<DeliveryPage[]> {
  const prepared = await prepare(c);
  return prepared.map(({ before: _, after: __, ...page }) => page);
}

const isDelivered = (p: PreparedDocument) => p.leftOut === null && p.changes.length > 0;

/**
 * Delivers the pages of a collection with their accepted words to a target, and remembers it.
 *
 * @throws Error in words when the target does not take them
 */
export async function deliver(c: Collection, target: DeliveryTarget, signal: AbortSignal): Promise<Receipt[]> {
  const pages = (await prepare(c)).filter(isDelivered);
  const receipts = await target.deliver(pages, signal);
  if (target.carriesPages) {
    const db = await database();
    const changes = pages.reduce((sum, p) => sum + p.changes.length, 0);
    await db.insert(delivery).values({ collectionId: c.id, pages: pages.length, changes });
  }
  return receipts;
}

/** Leaves the words of some places out of the delivery for now, or puts them back, under an act that can be undone. */
export async function leaveOut(
  collectionId: string,
  ids: readonly number[],
  leftOut: boolean,
  act: string,
): Promise<void> {
  const db = await database();
  await db.transaction(async (tx) => {
    const mine = and(eq(appearance.collectionId, collectionId), among(appearance.id, ids));
    const rows = await tx.select({ id: appearance.id, before: appearance.leftOut }).from(appearance).where(mine);
    const steps = rows.map(({ id, before }) => ({ kind: 'left-out' as const, target: id, before, after: leftOut }));
    await recordSteps(tx, collectionId, act, steps);
    await tx.update(appearance).set({ leftOut }).where(mine);
  });
  announceChange({ collectionId, pictures: null });
}

export async function pastDeliveries(collectionId: string) {
  const db = await database();
  return db
    .select({ id: delivery.id, pages: delivery.pages, changes: delivery.changes, at: delivery.at })
    .from(delivery)
    .where(eq(delivery.collectionId, collectionId))
    .orderBy(desc(delivery.id))
    .limit(10);
}
