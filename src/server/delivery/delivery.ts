import { and, desc, eq } from 'drizzle-orm';
import PQueue from 'p-queue';
import type { DeliveryChange, DeliveryPage } from '@/contract/delivery';
import { groupBy } from '@/core/group-by';
import { refusalFor } from '@/core/formats/html/refusals';
import { positionOf, takesNoWords } from '@/core/model/appearance';
import type { BookMetadata, Change, Edit } from '@/core/model/document';
import { documentContextOf, draftNoteOf } from '@/core/house-style/house-style';
import type { Message } from '@/core/model/message';
import { UserError } from '@/core/model/user-error';
import { readFile } from '../blobs/blobs';
import { log, messageOf, reasonOf } from '../log';
import { recordSteps } from '../catalogue/act-steps';
import type { Collection } from '../catalogue/collections';
import { isMachineDrafted, writersAt, type Writer } from '../catalogue/writers';
import { announceChange } from '../changes';
import { among } from '../db/bulk';
import { database } from '../db/database';
import { appearance, delivery } from '../db/schema';
import { openSource } from '../survey/open-source';
import { Skipped, UNCHANGED } from '../survey/source';
import { sharedReaders } from '../workers/reader-pool';
import { sharedBytes } from '../workers/shared-bytes';
import { withProgress } from './delivery-progress';
import { DescriptionPages } from './description-pages';
import { fileFor } from './file-for';
import { editFor, partsOf, waitingAppearances, type WaitingAppearance } from './page-edits';
import type { DeliveryTarget, PreparedDocument, Receipt } from './target';

const CONCURRENCY = 4;
const NOT_KEPT: Message = { id: 'left-out.not-kept' };

/** Works out every change that accepted texts make to the pages as they are now, and the pages that are new. */
async function prepare(c: Collection): Promise<PreparedDocument[]> {
  const db = await database();
  const rows = await waitingAppearances(db, c.id);
  const note = draftNoteOf(c.style);
  const { book } = documentContextOf(c.style);
  const writers =
    note === ''
      ? new Map<number, Writer>()
      : await writersAt(
          db,
          rows.map((r) => r.appearance.id),
        );
  const editOf = (row: WaitingAppearance) =>
    editFor(row, ownPages, note, isMachineDrafted(writers.get(row.appearance.id)));
  const ownPages = new DescriptionPages(rows);
  const byDocument = groupBy(rows, documentOf);
  const source = await openSource(c).catch((error: Error) => error);
  const queue = new PQueue({ concurrency: CONCURRENCY });
  try {
    const pages = await withProgress(c.id, byDocument.size, (done) =>
      Promise.all(
        [...byDocument.values()].map((own) =>
          queue.add(() => prepareDocument(own, editOf, source, book).finally(done)),
        ),
      ),
    );
    const written = new Set(pages.filter((p) => p.leftOut === null && p.changes.length > 0).map((p) => p.path));
    return [...pages.filter((p) => p.waiting > 0), ...ownPages.documents(written)];
  } finally {
    if (!(source instanceof Error)) await source.close();
  }
}

/** The document that a page is in: its own, where it is one of several in a file. */
const documentOf = ({ page: p }: WaitingAppearance): string => p.document ?? p.path;

/** What names a page within its document; absent where the document is one page. */
const fragmentOf = ({ page: p }: WaitingAppearance): { fragment?: string } =>
  p.document === null ? {} : { fragment: p.path.slice(p.document.length + 1) };

async function prepareDocument(
  own: readonly WaitingAppearance[],
  editOf: (row: WaitingAppearance) => Edit,
  source: Awaited<ReturnType<typeof openSource>> | Error,
  book: BookMetadata,
): Promise<PreparedDocument> {
  const { page: p } = own[0]!;
  const path = documentOf(own[0]!);
  const kept = await readFile(p.source).catch(() => null);
  const before = kept ?? Buffer.alloc(0);
  const leftOut = source instanceof Error ? reasonOf(source) : kept ? await changedSince(source, path, kept) : NOT_KEPT;
  const spotOf = (row: WaitingAppearance) => {
    const { id, pictureId, reading } = row.appearance;
    return { appearanceId: id, pictureId, line: positionOf(reading).line, ...placeOf(row) };
  };
  const edits = own.map((row) => ({ row, edit: { ...editOf(row), ...fragmentOf(row) } }));
  // Nothing is delivered where somebody has to choose first.
  const conflicts = own.filter((o) => o.open !== null).map(spotOf);
  const aside = edits
    .filter(({ row, edit }) => row.open === null && row.appearance.leftOut && partsOf(edit).length > 0)
    .map(({ row }) => ({ ...spotOf(row), text: row.appearance.words }));
  const base = {
    // Its pages have titles of their own; the whole goes by its name.
    ...{ path, format: p.format, title: p.document === null ? p.title : '', file: fileFor(path), isNew: false },
    ...{ conflicts, aside, leftOut, before, warnings: [] },
  };
  const refused = (reason: Message) => {
    const waiting = edits.reduce((sum, { edit }) => sum + partsOf(edit).length, 0);
    return { ...base, leftOut: reason, waiting, after: before, changes: [], refusals: [] };
  };
  if (leftOut !== null) return refused(leftOut);
  const settled = edits.filter(({ row }) => row.open === null && !row.appearance.leftOut);
  try {
    const written = await write(before, p, settled, book);
    const waiting = written.changes.length + written.refusals.length + conflicts.length + aside.length;
    return { ...base, waiting, ...written };
  } catch (error) {
    // A document that may not be written at all, such as one that is signed, stops no other.
    if (error instanceof UserError) return refused(error.reason);
    log.error({ message: messageOf(error), page: p.id }, 'a document could not be written');
    return refused({ id: 'left-out.unexpected' });
  }
}

/** Where a place is found in its document, for people; nothing where the file itself has lines. */
function placeOf({ page: p, appearance: { reading } }: WaitingAppearance): Pick<DeliveryChange, 'where'> {
  if (p.document === null && reading.location.kind === 'html') return {};
  const fragment = p.document === null ? null : p.path.slice(p.document.length + 1);
  // The path of an element that no source has says nothing to people.
  const spot = reading.location.kind === 'script' ? { id: 'spot.script' } : (reading.context.spot ?? null);
  return { where: { fragment, spot, place: reading.context.place } };
}

/** Puts accepted texts into a document, and reads it again to see that it says them. */
async function write(
  before: Buffer,
  p: WaitingAppearance['page'],
  own: readonly { row: WaitingAppearance; edit: Edit }[],
  book: BookMetadata,
): Promise<Pick<PreparedDocument, 'after' | 'changes' | 'refusals' | 'warnings'>> {
  const keyOf = ({ fragment = null, order }: Pick<Edit, 'fragment' | 'order'>) => `${fragment ?? ''} ${order}`;
  const rowOf = new Map(own.map(({ row, edit }) => [keyOf(edit), row]));
  const about = (of: Pick<Edit, 'fragment' | 'order'>) => {
    const row = rowOf.get(keyOf(of))!;
    return { appearanceId: row.appearance.id, pictureId: row.appearance.pictureId, ...placeOf(row) };
  };
  // What a browser or a style sheet added is not among the appearances that the source itself shows.
  const isInSource = ({ row }: (typeof own)[number]) =>
    row.appearance.reading.location.kind !== 'script' && !takesNoWords(row.appearance.reading);
  const unwritable = own
    .filter((o) => !isInSource(o))
    .flatMap(({ row, edit }) =>
      partsOf(edit).map((part) => ({
        ...{ ...fragmentOf(row), order: edit.order, part, line: positionOf(row.appearance.reading).line },
        reason: refusalFor(row.appearance.reading)!,
      })),
    );
  const writable = own.filter((o) => isInSource(o) && partsOf(o.edit).length > 0);
  const context = {
    ...(p.transport ? { transport: p.transport } : {}),
    ...(p.frontMatter ? { frontMatter: p.frontMatter } : {}),
    book,
    modified: new Date().toISOString().replace(/\.\d+/, ''),
  };
  const edits = writable.map((o) => o.edit);
  const written = await sharedReaders().write(sharedBytes(before), p.format, p.document ?? p.path, edits, context);
  const editOf = new Map(writable.map(({ edit }) => [keyOf(edit), edit]));
  const isRefused = (c: Change) =>
    written.refusals.some((r) => keyOf(r) === keyOf(c) && r.part === c.part && r.reason.id === 'refusal.not-heard');
  return {
    after: Buffer.from(written.bytes),
    changes: written.changes.map((change) => ({
      ...change,
      ...about(change),
      // The proof: what a reader of the new document gets is what was accepted.
      heard: change.part === 'attributes' && !isRefused(change) ? heardAfter(editOf.get(keyOf(change))?.text) : null,
      reads: change.part === 'long-description' ? (editOf.get(keyOf(change))?.longDescription?.text ?? null) : null,
      writtenBy: null,
    })),
    refusals: [...unwritable, ...written.refusals].map((r) => ({ ...r, ...about(r) })),
    warnings: written.warnings ?? [],
  };
}

/** What is heard of an alt text that was proved to be there. */
const heardAfter = (text: string | undefined): string | null =>
  text === undefined ? null : text.replace(/\s+/g, ' ').trim();

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
      values: { reason: error instanceof Skipped ? error.reason : reasonOf(error) },
    };
  }
}

/** Every change, before it is taken. */
export async function previewDelivery(c: Collection): Promise<DeliveryPage[]> {
  const prepared = await prepare(c);
  const ids = prepared.flatMap((p) => p.changes.filter((x) => x.heard !== null).map((x) => x.appearanceId));
  const writers = await writersAt(await database(), ids);
  return prepared.map(({ before: _, after: __, ...page }) => ({
    ...page,
    changes: page.changes.map((change) =>
      change.heard === null ? change : { ...change, writtenBy: writers.get(change.appearanceId) ?? null },
    ),
  }));
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
