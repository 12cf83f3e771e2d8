import { and, eq, ne, sql, type SQL } from 'drizzle-orm';
import type { SurveySummary } from '@/contract/survey';
import { config } from '../config';
import { collectionTransaction, type Database } from '../db/database';
import { file, page, picture, pictureSource, survey, visit } from '../db/schema';
import { ensureRoom } from '../disk';
import { Frontier, short, type FrontierProgress, type Visit, type Waiting } from './frontier';
import { keepOneByOne } from './one-by-one';
import { NO_FILE, PageWriter, READER, type KnownRows, type Shown } from './page-writer';
import type { Skipped } from './source';
import type { GatheredDocument, GatheredPage, GatheredPicture, KnownPage, KnownPicture, SurveyStore } from './store';
import { concludeSurvey } from './survey-summary';
import { WriteBuffer, type PictureValues } from './write-buffer';

/** Pages, and bytes of pages and pictures, that may wait to be written before the survey waits for them. */
const MOST_PENDING = 200;
/** Milliseconds between the beginnings of two batches, and pages that do not wait for it: a batch costs as much as some pages. */
const PAUSE_MS = 300;
const ENOUGH = 50;
const MOST_BYTES = 48 * 1024 * 1024;

/**
 * Keeps a survey in the database, so that it can be watched, stopped and taken up again. What is gathered is written in
 * batches, one after the other, each as large as what came in while the one before was written; a page comes with its
 * pictures or not at all. What was not written when the process ends, waits again.
 */
export class DatabaseStore implements SurveyStore {
  loaded: Promise<void> = Promise.resolve();
  private readonly frontier: Frontier;
  private readonly writer: PageWriter;
  private readonly known: KnownRows = { pages: new Set(), shown: new Map<string, Shown>() };
  /** No survey before it stored a page of the collection. */
  private isFirst = false;
  /** Addresses of pictures that this survey has gathered. */
  private readonly pictures = new Set<string>();
  private readonly bySameKey = new Map<string, string>();
  private readonly knownPictures = new Map<string, KnownPicture>();
  private pending = new WriteBuffer();
  private writing: Promise<void> | null = null;
  /** When the latest batch was begun, in milliseconds, and what begins the next one. */
  private begun = 0;
  private timer: NodeJS.Timeout | null = null;
  private failure: unknown = null;
  /** A page was settled since this start; until then it is noted which ones are being read. */
  private isMoving = false;

  private constructor(
    private readonly db: Database,
    private readonly collectionId: string,
    private readonly surveyId: number,
    maxPages: number,
    private readonly changed: (progress: FrontierProgress) => void,
  ) {
    this.frontier = new Frontier(maxPages);
    this.writer = new PageWriter(collectionId, surveyId, this.known);
  }

  /**
   * Takes a survey up where it stands.
   *
   * @param changed called whenever something changed
   */
  static async open(
    db: Database,
    collectionId: string,
    surveyId: number,
    maxPages: number,
    changed: (progress: FrontierProgress) => void,
  ): Promise<DatabaseStore> {
    const store = new DatabaseStore(db, collectionId, surveyId, maxPages, changed);
    await store.loadWaiting();
    store.loaded = store.load().catch((error: unknown) => {
      store.failure = error;
      throw error;
    });
    // Whoever awaits it gets the error.
    store.loaded.catch(() => undefined);
    return store;
  }

  /** What is enough to go on with. */
  private async loadWaiting(): Promise<void> {
    const [waiting, before] = await Promise.all([
      this.all<Waiting>(
        sql`select address, depth, found_on "foundOn" from ${visit}
          where survey_id = ${this.surveyId} and state = 'waiting' and kind = 'page' order by seq`,
      ),
      this.db
        .select({ id: survey.id })
        .from(survey)
        .where(and(eq(survey.collectionId, this.collectionId), ne(survey.id, this.surveyId)))
        .limit(1),
    ]);
    this.isFirst = before.length === 0;
    this.frontier.restoreWaiting(waiting);
  }

  private async load(): Promise<void> {
    const { surveyId, collectionId } = this;
    // Asked for at once, so that the database goes on while an answer is taken apart here.
    const [settled, pages, sources] = await Promise.all([
      this.all<{ kind: Visit['kind']; state: 'done' | 'skipped'; again: boolean; addresses: string[] }>(
        sql`select kind, state, coalesce(cause in ('nofollow', 'depth'), false) again, json_agg(address) addresses
          from ${visit} where survey_id = ${surveyId} and state <> 'waiting' group by 1, 2, 3`,
      ),
      this.all<{ path: string; sameKey: string | null; own: boolean; gone: boolean }>(
        sql`select path, same_key "sameKey", survey_id = ${surveyId} own, gone from ${page} where collection_id = ${collectionId}`,
      ),
      this.all<{ address: string } & KnownPicture & Shown>(
        sql`select s.address, s.etag, s.last_modified "lastModified", p.sha256, p.id, p.key, p.width, p.height
          from ${pictureSource} s join ${picture} p on p.id = s.picture_id left join ${file} f on f.sha256 = p.sha256
          where s.collection_id = ${collectionId} and (p.type is null or f.sha256 is not null)`,
      ),
    ]);
    for (const { kind, state, again, addresses } of settled) {
      this.frontier.restoreSettled(kind, state, again, addresses);
      if (kind === 'picture') for (const address of addresses) this.pictures.add(address);
    }
    for (const { path, sameKey, own, gone } of pages) {
      if (!gone) this.known.pages.add(path);
      if (sameKey !== null && own) this.bySameKey.set(sameKey, path);
    }
    for (const { address, etag, lastModified, sha256, ...shown } of sources) {
      this.known.shown.set(address, shown);
      this.knownPictures.set(address, { etag, lastModified, sha256 });
    }
  }

  /** Many rows as one text, which comes over from the database's thread several times faster. */
  private async all<Row>(query: SQL): Promise<Row[]> {
    const result = await this.db.execute(sql`select json_agg(r)::text found from (${query}) r`);
    const [row] = (result as unknown as { rows: [{ found: string | null }] }).rows;
    return JSON.parse(row.found ?? '[]') as Row[];
  }

  async enqueue(addresses: Waiting[]): Promise<void> {
    for (const visit of this.frontier.add(addresses)) this.log(visit);
    await this.write();
  }

  async leave(left: { address: string; foundOn: string; skipped: Skipped }[]): Promise<void> {
    for (const visit of this.frontier.leave(left)) this.log(visit);
    await this.write();
  }

  async next(): Promise<Waiting | null> {
    const next = this.frontier.next();
    if (next) this.noteReading();
    return next;
  }

  /** Of a page that ends the process, the next start knows which it was. */
  private noteReading(): void {
    if (this.isMoving) return;
    this.db
      .update(survey)
      .set({ reading: this.frontier.progress.inHand })
      .where(eq(survey.id, this.surveyId))
      .catch(() => undefined);
  }

  async knownPage(address: string): Promise<KnownPage | null> {
    if (this.isFirst) return null;
    await this.loaded;
    if (!this.known.pages.has(address)) return null;
    const [row] = await this.db
      .select({
        sha256: page.source,
        links: page.links,
        pictures: page.pictures,
        rendered: page.rendered,
        etag: page.etag,
        lastModified: page.lastModified,
        frontMatter: page.frontMatter,
      })
      .from(page)
      // One whose bytes were lost is read again.
      .innerJoin(file, eq(file.sha256, page.source))
      .where(and(eq(page.collectionId, this.collectionId), eq(page.path, address), eq(page.reader, READER)));
    return row ?? null;
  }

  async unchanged(address: string): Promise<void> {
    this.settle(address, 'done', { status: 304 });
    this.pending.unchanged.push(address);
    await this.write();
  }

  async page(gathered: GatheredPage): Promise<void> {
    const { address, sameKey, status, note } = gathered;
    // Two addresses may redirect to one page.
    if (this.frontier.isDone(address)) return;
    const same = sameKey === null ? undefined : this.bySameKey.get(sameKey);
    if (same !== undefined && same !== address) {
      this.settle(address, 'skipped', {
        reason: { id: 'skip.same-page', values: { address: same } },
        cause: 'same-page',
        status,
      });
      return this.write();
    }
    if (sameKey !== null) this.bySameKey.set(sameKey, address);
    this.settle(address, 'done', { status, reason: note });
    const source = gathered.sha256;
    this.pending.keep(source, gathered.bytes);
    this.pending.pages.push({ gathered, source });
    await this.write();
    await this.room();
  }

  async document({ address, pages, status, note }: GatheredDocument): Promise<void> {
    if (this.frontier.isDone(address)) return;
    this.settle(address, 'done', { status, reason: note });
    for (const gathered of pages) {
      this.pending.keep(gathered.sha256, gathered.bytes);
      this.pending.pages.push({ gathered, source: gathered.sha256 });
    }
    await this.write();
    await this.room();
  }

  async skip(address: string, { reason, why, status }: Skipped): Promise<void> {
    this.settle(address, 'skipped', { reason, cause: why, status });
    await this.write();
  }

  private settle(address: string, state: 'done' | 'skipped', about: Partial<Visit>): void {
    const visit = this.frontier.settle(address, state, about);
    if (visit) this.log(visit);
  }

  private log(visit: Visit): void {
    const key = `${visit.kind} ${visit.address}`;
    const before = this.pending.visits.get(key);
    this.pending.visits.set(key, {
      surveyId: this.surveyId,
      reason: null,
      cause: null,
      status: null,
      depth: before?.depth ?? 0,
      foundOn: before?.foundOn ?? null,
      settledAt: visit.state === 'waiting' ? null : new Date(),
      ...visit,
    });
  }

  async hasPicture(address: string): Promise<boolean> {
    return this.pictures.has(short(address));
  }

  async knownPicture(address: string): Promise<KnownPicture | null> {
    return this.knownPictures.get(short(address)) ?? null;
  }

  async pictureUnchanged(whole: string): Promise<void> {
    const address = short(whole);
    this.pictures.add(address);
    this.log(this.frontier.count({ kind: 'picture', address, state: 'done', status: 304 }));
  }

  async sheet(whole: string, foundOn: string, skipped: Skipped | null): Promise<void> {
    const address = short(whole);
    const about = skipped ? { reason: skipped.reason, cause: skipped.why, status: skipped.status } : {};
    const state = skipped ? 'skipped' : 'done';
    this.log(this.frontier.count({ kind: 'stylesheet', address, state, foundOn, ...about }));
  }

  async picture(gathered: GatheredPicture): Promise<void> {
    const address = short(gathered.address);
    this.pictures.add(address);
    const src = /^(?:inline|data):/.test(address) ? null : address;
    if (gathered.found) {
      const { reading, bytes, etag, lastModified } = gathered;
      if (reading.type) this.pending.keep(reading.sha256, bytes);
      const { sha256, type, width, height, broken } = reading;
      this.pend({ key: sha256, src, sha256, type, bytes: reading.bytes, width, height, broken, unread: null });
      this.pending.sources.set(address, { key: sha256, etag, lastModified });
      const about = broken ? { reason: broken, cause: 'not-a-picture' as const } : {};
      this.log(this.frontier.count({ kind: 'picture', address, state: broken ? 'skipped' : 'done', ...about }));
      return this.room();
    }
    const { reason, why, status, notLookedAt } = gathered.skipped;
    const [broken, unread] = notLookedAt ? [null, reason] : [reason, null];
    this.pend({ ...NO_FILE, key: `address:${address}`, src, broken, unread });
    this.pending.sources.set(address, { key: `address:${address}`, etag: null, lastModified: null });
    this.log(this.frontier.count({ kind: 'picture', address, state: 'skipped', reason, cause: why, status }));
  }

  private pend(values: Omit<PictureValues, 'collectionId'>): void {
    const before = this.pending.pictures.get(values.key);
    // The least of its addresses, so that the order in which they arrive does not matter.
    const src = before?.src && values.src ? (before.src < values.src ? before.src : values.src) : values.src;
    this.pending.pictures.set(values.key, { collectionId: this.collectionId, ...values, src: src ?? null });
  }

  async progress(): Promise<void> {
    this.changed(this.frontier.progress);
  }

  /** Writes what is left. */
  async finish(): Promise<void> {
    while (!this.pending.isEmpty || this.writing) {
      await this.write(true);
      await this.writing;
    }
    if (this.timer) clearTimeout(this.timer);
    this.throwFailure();
  }

  /** Marks what this survey did not find as gone, and counts what is new. */
  conclude(): Promise<SurveySummary> {
    return concludeSurvey(this.db, this.collectionId, this.surveyId);
  }

  private throwFailure(): void {
    if (this.failure !== null) throw this.failure as Error;
  }

  /** Waits while too much waits to be written. */
  private async room(): Promise<void> {
    while (this.writing && (this.pending.pages.length >= MOST_PENDING || this.pending.bytes >= MOST_BYTES))
      await this.writing;
  }

  /**
   * Begins to write unless that is under way, or began a moment ago and little waits; what comes in meanwhile goes with
   * the next batch.
   */
  private async write(now = false): Promise<void> {
    this.throwFailure();
    if (this.writing || this.pending.isEmpty) return;
    const rest = this.begun + PAUSE_MS - Date.now();
    if (!now && rest > 0 && this.pending.pages.length < ENOUGH && this.pending.bytes < MOST_BYTES) {
      this.timer ??= setTimeout(() => {
        this.timer = null;
        // A failure is thrown at whoever writes next.
        this.write(true).catch(() => undefined);
      }, rest);
      return;
    }
    const batch = this.pending;
    this.pending = new WriteBuffer();
    this.begun = Date.now();
    this.writing = this.store(batch)
      .catch((error: unknown) => {
        this.failure = error;
      })
      .then(() => {
        this.writing = null;
        this.changed(this.frontier.progress);
        if (this.failure === null) return this.write();
      });
  }

  /** Writes a batch; of one that cannot be written, each page and picture by itself, and what then fails is skipped. */
  private async store(batch: WriteBuffer): Promise<void> {
    const { dataDir, reserve } = config();
    await ensureRoom(dataDir, batch.bytes, reserve);
    const write = (part: WriteBuffer) =>
      collectionTransaction(this.collectionId, async (tx) => {
        // What a loss of power takes of it waits again in the frontier, which goes with it.
        await tx.execute(sql`set local synchronous_commit = off`);
        if (!this.isMoving && [...part.visits.values()].some((v) => v.kind === 'page' && v.state !== 'waiting')) {
          await tx.update(survey).set({ starts: 0, reading: [] }).where(eq(survey.id, this.surveyId));
          this.isMoving = true;
        }
        await this.writer.write(tx, part);
      });
    await write(batch).catch((error: unknown) =>
      keepOneByOne(batch, error, write, (visit) => this.frontier.recount(visit)),
    );
  }
}
