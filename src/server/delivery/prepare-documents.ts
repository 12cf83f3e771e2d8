import { createHash } from 'node:crypto';
import { and, asc, eq, sql } from 'drizzle-orm';
import PQueue from 'p-queue';
import { groupBy } from '@/core/group-by';
import { documentContextOf, draftNoteOf } from '@/core/house-style/house-style';
import type { Message } from '@/core/model/message';
import { hashOf, readFile } from '../blobs/blobs';
import type { Collection } from '../catalogue/collections';
import { isMachineDrafted, writersAt, type Writer } from '../catalogue/writers';
import { insertRows, onConflictUpdate } from '../db/bulk';
import { database, type Database } from '../db/database';
import { page, preparedDocument } from '../db/schema';
import { reasonOf } from '../log';
import { openSource } from '../survey/open-source';
import { Skipped, UNCHANGED, type Source } from '../survey/source';
import type { DescriptionPages } from './description-pages';
import { editFor, waitingAppearances, type WaitingAppearance } from './page-edits';
import { descriptionPagesOf } from './plan';
import { documentOf, prepareDocument, type PreparedDocument } from './prepare-document';
import { keepOnly, keepPrepared } from './prepared-files';

const CONCURRENCY = 4;
/** Documents, and appearances in them, that are read from the database at once. */
const PORTION = { documents: 32, places: 400 };
const NOT_KEPT: Message = { id: 'left-out.not-kept' };

type Row = typeof preparedDocument.$inferSelect;

/** Something to be done in the background that can be stopped, and says how far it is. */
export interface Following {
  signal: AbortSignal;
  /** @param share from 0 to 1 */
  report(share: number): void;
}

/**
 * Compares, writes and proves the documents of a collection that a plan found due, one after the other: their bytes are
 * kept in files, what they say in the database. What was done stays when it is stopped.
 *
 * @throws DiskFullError when the reserve for editors' words would be touched
 */
export async function prepareDocuments(c: Collection, { signal, report }: Following): Promise<void> {
  const db = await database();
  const mine = eq(preparedDocument.collectionId, c.id);
  const isDue = and(mine, sql`${preparedDocument.due} is not null`);
  const total = await db.$count(preparedDocument, isDue);
  const ownPages = await descriptionPagesOf(db, c.id);
  if (total > 0) {
    const source = await openSource(c, signal).catch((error: Error) => error);
    const queue = new PQueue({ concurrency: CONCURRENCY });
    const results = new Results(db, c.id);
    try {
      for (let done = 0; !signal.aborted;) {
        const due = await nextPortion(db, c.id);
        if (due.length === 0) break;
        const rows = await rowsOf(db, c.id, due);
        const preparer = await Preparer.of(db, c, source, ownPages, [...rows.values()].flat());
        const prepareRow = async (row: Row) => {
          if (signal.aborted) return;
          await results.put(row, await preparer.prepare(row, rows.get(row.path) ?? []));
          report(Math.min(1, ++done / total));
        };
        await Promise.all(due.map((row) => queue.add(() => prepareRow(row))));
        await results.written();
      }
    } finally {
      await results.written().catch(() => undefined);
      if (!(source instanceof Error)) await source.close();
    }
  }
  if (!signal.aborted) await keepNewPages(db, c.id, ownPages);
}

/** The next documents that are due, in the order in which they are shown; at least one where any is left. */
async function nextPortion(db: Database, collectionId: string): Promise<Row[]> {
  const due = await db
    .select()
    .from(preparedDocument)
    .where(and(eq(preparedDocument.collectionId, collectionId), sql`${preparedDocument.due} is not null`))
    .orderBy(asc(preparedDocument.isNew), asc(preparedDocument.position))
    .limit(PORTION.documents);
  let places = 0;
  return due.filter((row, i) => (places += row.places) <= PORTION.places || i === 0);
}

/** The appearances with texts that wait in some documents. */
async function rowsOf(
  db: Database,
  collectionId: string,
  due: readonly Row[],
): Promise<Map<string, WaitingAppearance[]>> {
  const paths = due.filter((d) => d.due === 'write').map((d) => d.path);
  if (paths.length === 0) return new Map();
  const among = sql.param(paths);
  const pages = await db
    .select({ id: page.id })
    .from(page)
    .where(
      and(
        eq(page.collectionId, collectionId),
        sql`((${page.path} = any(${among}::text[]) and ${page.document} is null) or ${page.document} = any(${among}::text[]))`,
      ),
    );
  const ids = sql.param(pages.map((p) => p.id));
  return groupBy(await waitingAppearances(db, collectionId, sql`${page.id} = any(${ids}::int[])`), documentOf);
}

/** Prepares documents of one collection. */
class Preparer {
  private constructor(
    private readonly source: Source | Error,
    private readonly editOf: (row: WaitingAppearance) => ReturnType<typeof editFor>,
    private readonly book: ReturnType<typeof documentContextOf>['book'],
  ) {}

  /** @param rows all appearances that it will be asked about */
  static async of(
    db: Database,
    c: Collection,
    source: Source | Error,
    ownPages: DescriptionPages,
    rows: readonly WaitingAppearance[],
  ): Promise<Preparer> {
    const note = draftNoteOf(c.style);
    const ids = rows.map((r) => r.appearance.id);
    const writers = note === '' ? new Map<number, Writer>() : await writersAt(db, ids);
    const editOf = (row: WaitingAppearance) =>
      editFor(row, ownPages, note, isMachineDrafted(writers.get(row.appearance.id)));
    return new Preparer(source, editOf, documentContextOf(c.style).book);
  }

  /** @returns null where it is only found to be as it was surveyed, as it was when it was written */
  async prepare(row: Row, own: readonly WaitingAppearance[]): Promise<PreparedDocument | 'same' | 'changed' | 'gone'> {
    const hash = row.due === 'compare' ? row.hashBefore : own[0]?.page.source;
    if (!hash) return 'gone';
    const kept = await readFile(hash).catch(() => null);
    const { source } = this;
    const leftOut =
      source instanceof Error ? reasonOf(source) : kept ? await changedSince(source, row.path, kept) : NOT_KEPT;
    if (row.due === 'compare') return leftOut === null ? 'same' : 'changed';
    return prepareDocument(own, kept ?? Buffer.alloc(0), leftOut, this.editOf, this.book);
  }
}

/** Why a page must not be overwritten; null when it is as it was surveyed. */
async function changedSince(source: Source, path: string, surveyed: Buffer): Promise<Message | null> {
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

/** Stores what was prepared: all that has come while the statement before was under way goes into the next. */
class Results {
  private waiting: (typeof preparedDocument.$inferInsert)[] = [];
  private writing: Promise<void> | null = null;

  constructor(
    private readonly db: Database,
    private readonly collectionId: string,
  ) {}

  async put(row: Row, result: PreparedDocument | 'same' | 'changed' | 'gone'): Promise<void> {
    if (result === 'gone') {
      const mine = and(eq(preparedDocument.collectionId, row.collectionId), eq(preparedDocument.path, row.path));
      await this.db.delete(preparedDocument).where(and(mine, eq(preparedDocument.key, row.key)));
      return;
    }
    if (result === 'same') this.waiting.push({ ...row, due: null, comparedAt: new Date() });
    // Written again, it says how many texts wait in it.
    else if (result === 'changed') this.waiting.push({ ...row, due: 'write' });
    else this.waiting.push({ ...row, ...(await kept(this.collectionId, row.key, result)) });
    this.writing ??= this.write().finally(() => (this.writing = null));
  }

  private async write(): Promise<void> {
    while (this.waiting.length > 0) {
      const rows = this.waiting.splice(0);
      // Texts that were changed meanwhile have another key, and are due again.
      await insertRows(
        this.db,
        preparedDocument,
        rows,
        onConflictUpdate<typeof preparedDocument>(
          ['collectionId', 'path'],
          [
            ...(['due', 'document', 'changes', 'waiting', 'conflicts', 'refusals', 'aside'] as const),
            ...(['isLeftOut', 'hashBefore', 'hashAfter', 'comparedAt'] as const),
          ],
          sql` where ${preparedDocument.key} = excluded.key`,
        ),
      );
    }
  }

  /** Resolves once all is stored. */
  async written(): Promise<void> {
    await this.writing;
  }
}

/** What is stored of a prepared document; its bytes go into a file. */
async function kept(
  collectionId: string,
  key: string,
  { page: p, before, after }: PreparedDocument,
): Promise<Partial<Row>> {
  const changes = p.leftOut === null ? p.changes.length : 0;
  if (changes > 0) await keepPrepared(collectionId, key, after);
  return {
    ...{ due: null, document: p, changes, waiting: p.waiting, conflicts: p.conflicts.length },
    ...{ refusals: p.refusals.length, aside: p.aside.length, isLeftOut: p.leftOut !== null, comparedAt: new Date() },
    hashBefore: p.isNew ? null : await hashOf(before),
    hashAfter: changes > 0 ? await hashOf(after) : null,
  };
}

/** Brings the pages with long descriptions up to date that the delivery itself makes, and removes files that nobody needs. */
async function keepNewPages(db: Database, collectionId: string, ownPages: DescriptionPages): Promise<void> {
  const mine = eq(preparedDocument.collectionId, collectionId);
  const changed = await db
    .select({ path: preparedDocument.path })
    .from(preparedDocument)
    .where(and(mine, eq(preparedDocument.isNew, false), sql`${preparedDocument.changes} > 0`));
  const made = ownPages.isEmpty ? [] : ownPages.documents(new Set(changed.map((r) => r.path)));
  const rows = [];
  for (const [i, document] of made.entries()) {
    const key = createHash('sha256').update(document.after).digest('hex');
    const row = { collectionId, path: document.page.path, isNew: true, position: i + 1, places: 1, key };
    rows.push({ ...row, ...(await kept(collectionId, key, document)) });
  }
  const paths = sql.param(rows.map((r) => r.path));
  await db
    .delete(preparedDocument)
    .where(and(mine, eq(preparedDocument.isNew, true), sql`${preparedDocument.path} <> all(${paths}::text[])`));
  await insertRows(
    db,
    preparedDocument,
    rows as (typeof preparedDocument.$inferInsert)[],
    onConflictUpdate<typeof preparedDocument>(
      ['collectionId', 'path'],
      [
        ...(['isNew', 'position', 'places', 'key', 'due', 'document', 'changes', 'waiting', 'conflicts'] as const),
        ...(['refusals', 'aside', 'isLeftOut', 'hashBefore', 'hashAfter', 'comparedAt'] as const),
      ],
    ),
  );
  const keys = await db.select({ key: preparedDocument.key }).from(preparedDocument).where(mine);
  await keepOnly(collectionId, new Set(keys.map((k) => k.key)));
}
