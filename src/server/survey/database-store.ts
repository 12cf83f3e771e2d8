import { createHash } from 'node:crypto';
import { and, eq, inArray, ne, sql, type SQL } from 'drizzle-orm';
import type { SurveySummary } from '@/contract/survey';
import type { Appearance } from '@/core/model/appearance';
import { wordsGroup } from '@/core/audit';
import { targetPath } from '@/core/formats/html/target';
import { proposePurpose } from '@/core/purpose/propose';
import { withWords, writtenWords } from '@/core/model/wording';
import { keepFiles } from '../blobs/blobs';
import { config } from '../config';
import { insertRows, onConflictUpdate } from '../db/bulk';
import type { Database, Queryable } from '../db/database';
import { appearance, file, page, picture, pictureSource, survey, visit } from '../db/schema';
import { ensureRoom } from '../disk';
import type { GatheredPage, GatheredPicture, KnownPage, KnownPicture, SurveyStore, Waiting } from './engine';
import { keepOneByOne } from './one-by-one';
import { Pending, type PictureValues, type VisitValues } from './write-buffer';
import { appearancesBefore, keepPageChanges, pageChange, type AppearanceBefore, type PageChange } from './page-changes';
import type { Skipped } from './source';

/** Pages, and bytes of pages and pictures, that may wait to be written before the survey waits for them. */
const MOST_PENDING = 200;
/** Milliseconds between the beginnings of two batches, and pages that do not wait for it: a batch costs as much as some pages. */
const PAUSE = 300;
const ENOUGH = 50;
const MOST_BYTES = 48 * 1024 * 1024;

/** What a page's appearances need to know of the picture that they show. */
interface Shown {
  id: number;
  key: string;
  width: number | null;
  height: number | null;
}

/**
 * Keeps a survey in the database, so that it can be watched, stopped and taken up again. What is gathered is
 * written in batches, one after the other, each as large as what came in while the one before was written; a page
 * comes with its pictures or not at all. What was not written when the process ends, waits again.
 */
export class DatabaseStore implements SurveyStore {
  loaded: Promise<void> = Promise.resolve();
  /** No survey before it kept a page of the collection. */
  private isFirst = false;
  private counted = 0;
  /** Addresses of pages that this survey has met, and how far each is. */
  private readonly met = new Map<string, 'waiting' | 'left' | 'skipped' | 'done'>();
  private readonly frontier: Waiting[] = [];
  /** Where of the frontier the survey is. */
  private at = 0;
  private readonly inHand = new Set<string>();
  /** Addresses of pictures that this survey has gathered. */
  private readonly pictures = new Set<string>();
  private readonly shown = new Map<string, Shown>();
  private readonly bySameKey = new Map<string, string>();
  /** Addresses of pages, and of pictures, that surveys before kept. */
  private readonly keptPages = new Set<string>();
  private readonly keptPictures = new Map<string, KnownPicture>();
  private pending = new Pending();
  private writing: Promise<void> | null = null;
  /** When the latest batch was begun, in milliseconds, and what begins the next one. */
  private begun = 0;
  private timer: NodeJS.Timeout | null = null;
  private failure: unknown = null;
  /** How many addresses there are of each kind in each state. */
  private readonly tally = {
    page: { waiting: 0, done: 0, skipped: 0 },
    picture: { waiting: 0, done: 0, skipped: 0 },
    stylesheet: { waiting: 0, done: 0, skipped: 0 },
  };
  /** A page was settled since this start; until then it is noted which ones are being read. */
  private isMoving = false;

  private constructor(
    private readonly db: Database,
    private readonly collectionId: string,
    private readonly surveyId: number,
    private readonly maxPages: number,
    private readonly changed: () => void,
  ) {}

  /** Takes a survey up where it stands. */
  static async open(
    db: Database,
    collectionId: string,
    surveyId: number,
    maxPages: number,
    changed: () => void,
  ): Promise<DatabaseStore> {
    const store = new DatabaseStore(db, collectionId, surveyId, maxPages, changed);
    await store.loadWaiting();
    store.loaded = store.load().catch((error: unknown) => {
      store.failure = error;
      throw error;
    });
    // Whoever awaits it is told.
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
    this.tally.page.waiting += waiting.length;
    for (const one of waiting) {
      this.met.set(one.address, 'waiting');
      this.frontier.push(one);
    }
  }

  private async load(): Promise<void> {
    const { surveyId, collectionId } = this;
    // Asked for at once, so that the database goes on while an answer is taken apart here.
    const [settled, pages, sources] = await Promise.all([
      this.all<Pick<VisitValues, 'kind' | 'state'> & { again: boolean; addresses: string[] }>(
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
      this.tally[kind][state] += addresses.length;
      for (const address of addresses)
        if (kind === 'picture') this.pictures.add(address);
        else if (kind === 'page') this.met.set(address, again ? 'left' : state);
    }
    this.counted = this.frontier.length + [...this.met.values()].filter((state) => state === 'done').length;
    for (const { path, sameKey, own, gone } of pages) {
      if (!gone) this.keptPages.add(path);
      if (sameKey !== null && own) this.bySameKey.set(sameKey, path);
    }
    for (const { address, etag, lastModified, sha256, ...shown } of sources) {
      this.shown.set(address, shown);
      this.keptPictures.set(address, { etag, lastModified, sha256 });
    }
  }

  /** Many rows as one text, which comes over from the database's thread several times faster. */
  private async all<Row>(query: SQL): Promise<Row[]> {
    const result = await this.db.execute(sql`select json_agg(r)::text found from (${query}) r`);
    const [row] = (result as unknown as { rows: [{ found: string | null }] }).rows;
    return JSON.parse(row.found ?? '[]') as Row[];
  }

  /** How far the survey is, and the addresses of the pages in hand. */
  get standing() {
    return { tally: this.tally, inHand: [...this.inHand] };
  }

  async enqueue(addresses: Waiting[]): Promise<void> {
    for (const { address: whole, depth, foundOn } of addresses) {
      const address = short(whole);
      const before = this.met.get(address);
      // Left aside on one way, and on another not.
      if (before !== undefined && before !== 'left') continue;
      if (this.counted < this.maxPages) {
        this.counted++;
        if (before === 'left') this.tally.page.skipped--;
        this.met.set(address, 'waiting');
        this.frontier.push({ address, depth, foundOn });
        this.visit({ kind: 'page', address, state: 'waiting', depth, foundOn });
      } else if (before === undefined) {
        this.met.set(address, 'skipped');
        const reason = `over the limit of ${this.maxPages} pages`;
        this.visit({ kind: 'page', address, state: 'skipped', reason, cause: 'limit', depth, foundOn });
      }
    }
    await this.write();
  }

  async leave(left: { address: string; foundOn: string; skipped: Skipped }[]): Promise<void> {
    for (const { address: whole, foundOn, skipped } of left) {
      const address = short(whole);
      if (this.met.has(address)) continue;
      const again = skipped.why === 'nofollow' || skipped.why === 'depth';
      this.met.set(address, again ? 'left' : 'skipped');
      this.visit({ kind: 'page', address, state: 'skipped', reason: skipped.reason, cause: skipped.why, foundOn });
    }
    await this.write();
  }

  async next(): Promise<Waiting | null> {
    while (this.at < this.frontier.length) {
      const waiting = this.frontier[this.at]!;
      this.at++;
      // A redirect may have led to it meanwhile.
      if (this.met.get(waiting.address) !== 'waiting') continue;
      this.inHand.add(waiting.address);
      this.noteReading();
      return waiting;
    }
    return null;
  }

  /** Of a page that ends the process, the next start knows which it was. */
  private noteReading(): void {
    if (this.isMoving) return;
    this.db
      .update(survey)
      .set({ reading: [...this.inHand] })
      .where(eq(survey.id, this.surveyId))
      .catch(() => undefined);
  }

  async known(address: string): Promise<KnownPage | null> {
    if (this.isFirst) return null;
    await this.loaded;
    if (!this.keptPages.has(address)) return null;
    const [row] = await this.db
      .select({
        sha256: page.source,
        links: page.links,
        pictures: page.pictures,
        rendered: page.rendered,
        etag: page.etag,
        lastModified: page.lastModified,
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
    if (this.met.get(address) === 'done') return;
    const same = sameKey === null ? undefined : this.bySameKey.get(sameKey);
    if (same !== undefined && same !== address) {
      this.settle(address, 'skipped', { reason: `the same page as ${same}`, cause: 'same-page', status });
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

  async skip(address: string, { reason, why, status }: Skipped): Promise<void> {
    this.settle(address, 'skipped', { reason, cause: why, status });
    await this.write();
  }

  /** What was read stays read: a second way to a page may be too long or lead elsewhere. */
  private settle(whole: string, state: 'done' | 'skipped', told: Partial<VisitValues>): void {
    const address = short(whole);
    this.inHand.delete(address);
    if (this.met.get(address) === 'done') return;
    const before = this.met.get(address);
    if (before !== undefined) this.tally.page[before === 'waiting' ? 'waiting' : 'skipped']--;
    else if (state === 'done') this.counted++;
    this.met.set(address, state);
    this.visit({ kind: 'page', address, state, ...told });
  }

  private visit(values: Omit<VisitValues, 'surveyId'>): void {
    this.tally[values.kind][values.state]++;
    const key = `${values.kind} ${values.address}`;
    const before = this.pending.visits.get(key);
    this.pending.visits.set(key, {
      surveyId: this.surveyId,
      reason: null,
      cause: null,
      status: null,
      depth: before?.depth ?? 0,
      foundOn: before?.foundOn ?? null,
      settledAt: values.state === 'waiting' ? null : new Date(),
      ...values,
    });
  }

  async hasPicture(address: string): Promise<boolean> {
    return this.pictures.has(short(address));
  }

  async knownPicture(address: string): Promise<KnownPicture | null> {
    return this.keptPictures.get(short(address)) ?? null;
  }

  async pictureUnchanged(whole: string): Promise<void> {
    const address = short(whole);
    this.pictures.add(address);
    this.visit({ kind: 'picture', address, state: 'done', status: 304 });
  }

  async sheet(address: string, foundOn: string, skipped: Skipped | null): Promise<void> {
    const told = skipped ? { reason: skipped.reason, cause: skipped.why, status: skipped.status } : {};
    this.visit({ kind: 'stylesheet', address: short(address), state: skipped ? 'skipped' : 'done', foundOn, ...told });
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
      const told = broken ? { reason: broken, cause: 'not-a-picture' as const } : {};
      this.visit({ kind: 'picture', address, state: broken ? 'skipped' : 'done', ...told });
      return this.room();
    }
    const { reason, why, status, notLookedAt } = gathered.skipped;
    const [broken, unread] = notLookedAt ? [null, reason] : [reason, null];
    this.pend({ ...NO_FILE, key: `address:${address}`, src, broken, unread });
    this.pending.sources.set(address, { key: `address:${address}`, etag: null, lastModified: null });
    this.visit({ kind: 'picture', address, state: 'skipped', reason, cause: why, status });
  }

  private pend(values: Omit<PictureValues, 'collectionId'>): void {
    const before = this.pending.pictures.get(values.key);
    // The least of its addresses, so that the order in which they arrive does not matter.
    const src = before?.src && values.src ? (before.src < values.src ? before.src : values.src) : values.src;
    this.pending.pictures.set(values.key, { collectionId: this.collectionId, ...values, src: src ?? null });
  }

  async progress(): Promise<void> {
    this.changed();
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
    const rest = this.begun + PAUSE - Date.now();
    if (!now && rest > 0 && this.pending.pages.length < ENOUGH && this.pending.bytes < MOST_BYTES) {
      this.timer ??= setTimeout(() => {
        this.timer = null;
        // A failure is told to whoever writes next.
        this.write(true).catch(() => undefined);
      }, rest);
      return;
    }
    const batch = this.pending;
    this.pending = new Pending();
    this.begun = Date.now();
    this.writing = this.keep(batch)
      .catch((error: unknown) => {
        this.failure = error;
      })
      .then(() => {
        this.writing = null;
        this.changed();
        if (this.failure === null) return this.write();
      });
  }

  /** Writes a batch; of one that cannot be written, each page and picture by itself, and what then fails is skipped. */
  private async keep(batch: Pending): Promise<void> {
    const { dataDir, reserve } = config();
    await ensureRoom(dataDir, batch.bytes, reserve);
    const write = (part: Pending) => this.db.transaction((tx) => this.writeBatch(tx, part));
    await write(batch).catch((error: unknown) =>
      keepOneByOne(batch, error, write, ({ kind, address, state }) => {
        this.tally[kind][state]--;
        this.tally[kind].skipped++;
        if (kind === 'page') this.met.set(address, 'skipped');
      }),
    );
  }

  private async writeBatch(tx: Queryable, batch: Pending): Promise<void> {
    if (!this.isMoving && [...batch.visits.values()].some((v) => v.kind === 'page' && v.state !== 'waiting')) {
      await tx.update(survey).set({ starts: 0, reading: [] }).where(eq(survey.id, this.surveyId));
      this.isMoving = true;
    }
    await keepFiles(tx, batch.files);
    const fileless = await this.writePictures(tx, batch);
    if (batch.pages.length > 0) await this.writePages(tx, batch, fileless);
    if (batch.unchanged.length > 0) await this.writeUnchanged(tx, batch.unchanged);
    await insertRows(
      tx,
      visit,
      [...batch.visits.values()],
      onConflictUpdate<typeof visit>(
        ['surveyId', 'kind', 'address'],
        ['state', 'reason', 'cause', 'status', 'settledAt'],
        sql`, depth = case when visit.state = 'skipped' and excluded.state = 'waiting' then excluded.depth else visit.depth end,
          found_on = coalesce(visit.found_on, excluded.found_on)`,
      ),
    );
  }

  /** @returns by key, the pictures that stand for appearances which show no file */
  private async writePictures(tx: Queryable, batch: Pending): Promise<Map<string, Shown>> {
    const wanted = new Map<string, PictureValues>(batch.pictures);
    for (const { gathered } of batch.pages)
      for (const a of gathered.reading.appearances) {
        const address = gathered.pictureOf[a.order] ?? null;
        const known = address !== null && (this.shown.has(short(address)) || batch.sources.has(short(address)));
        if (known) continue;
        const key = keyOfElement(gathered, a);
        wanted.set(key, { collectionId: this.collectionId, ...NO_FILE, key, src: address ?? a.markup.src });
      }
    const written = await insertRows<typeof picture, Shown>(
      tx,
      picture,
      [...wanted.values()],
      sql`${onConflictUpdate<typeof picture>(
        ['collectionId', 'key'],
        ['sha256', 'type', 'bytes', 'width', 'height', 'unread'],
        // What was found on looking at it stays: the content is the same.
        sql`, src = least(picture.src, excluded.src),
          analysis_version = case when picture.unread is not null and excluded.unread is null then 0 else picture.analysis_version end,
          broken = case when picture.analysis_version > 0 then picture.broken else excluded.broken end`,
      )} returning id, key, width, height`,
    );
    const byKey = new Map(written.map((row) => [row.key, row]));
    const sources = [...batch.sources].map(([address, { key, etag, lastModified }]) => {
      const row = byKey.get(key)!;
      this.shown.set(address, row);
      return { collectionId: this.collectionId, address, pictureId: row.id, etag, lastModified };
    });
    await insertRows(
      tx,
      pictureSource,
      sources,
      onConflictUpdate<typeof pictureSource>(['collectionId', 'address'], ['pictureId', 'etag', 'lastModified']),
    );
    return byKey;
  }

  private async writePages(tx: Queryable, { pages }: Pending, fileless: ReadonlyMap<string, Shown>): Promise<void> {
    const columns = [
      'title',
      'description',
      'headings',
      'lang',
      'charset',
      'transport',
      'source',
      'etag',
      'lastModified',
      'links',
    ] as const;
    const more = [
      ...(['pictures', 'sameKey', 'showsKey', 'directives', 'pagePictures', 'rendered'] as const),
      ...(['reader', 'surveyId', 'gone'] as const),
    ];
    const written = await insertRows<typeof page, { id: number; path: string }>(
      tx,
      page,
      pages.map(({ gathered: g, source }) => ({
        collectionId: this.collectionId,
        path: g.address,
        title: g.reading.title,
        description: g.reading.description,
        headings: g.reading.headings,
        lang: g.reading.lang,
        charset: g.reading.charset,
        transport: g.transport,
        source,
        ...g.validators,
        links: g.links,
        pictures: g.pictures,
        sameKey: g.sameKey,
        showsKey: g.showsKey,
        directives: g.directives,
        pagePictures: g.pagePictures,
        rendered: g.reading.rendered,
        reader: READER,
        surveyId: this.surveyId,
        firstSurveyId: this.surveyId,
        changedSurveyId: this.surveyId,
        gone: false,
      })),
      sql`${onConflictUpdate<typeof page>(
        ['collectionId', 'path'],
        [...columns, ...more],
        // A page that scripts make is read anew each time, and may be as it was all the same.
        sql`, changed_survey_id = case when page.rendered and excluded.rendered and not page.gone
          and page.shows_key = excluded.shows_key then page.changed_survey_id else excluded.changed_survey_id end`,
      )} returning id, path`,
    );
    const pageIds = new Map(written.map(({ id, path }) => [path, id]));
    const again = [...pageIds].filter(([path]) => this.keptPages.has(path)).map(([, id]) => id);
    const before = await appearancesBefore(tx, again);
    const changes: PageChange[] = [];
    const rows = pages.flatMap(({ gathered }) =>
      this.appearancesOf(gathered, pageIds.get(gathered.address)!, fileless, before, changes),
    );
    await insertRows(
      tx,
      appearance,
      rows,
      onConflictUpdate<typeof appearance>(
        ['collectionId', 'identity'],
        [
          ...(['pageId', 'pictureId', 'position', 'reading', 'state', 'wordsKey'] as const),
          ...(['place', 'target', 'purpose', 'purposeSure', 'evidence', 'words', 'surveyId', 'gone'] as const),
        ],
      ),
    );
    await keepPageChanges(tx, this.collectionId, this.surveyId, changes);
    if (again.length > 0)
      await tx
        .update(appearance)
        .set({ gone: true })
        .where(and(inArray(appearance.pageId, again), sql`${appearance.surveyId} <> ${this.surveyId}`));
  }

  private appearancesOf(
    gathered: GatheredPage,
    pageId: number,
    fileless: ReadonlyMap<string, Shown>,
    before: ReadonlyMap<string, AppearanceBefore>,
    changes: PageChange[],
  ): (typeof appearance.$inferInsert)[] {
    const ranks = new Map<string, number>();
    return gathered.reading.appearances.map((reading) => {
      const own =
        this.shown.get(short(gathered.pictureOf[reading.order] ?? '')) ??
        fileless.get(keyOfElement(gathered, reading))!;
      const place = `${gathered.address}\n${own.key}\n${reading.context.place}`;
      const rank = ranks.get(place) ?? 0;
      ranks.set(place, rank + 1);
      const identity = createHash('sha256').update(`${place}\n${rank}`).digest('hex').slice(0, 40);
      const earlier = before.get(identity);
      const proposal = proposePurpose(reading, own);
      const change = earlier ? pageChange(identity, earlier, writtenWords(reading)) : null;
      if (change) changes.push(change);
      // Words that the page says by now need no delivery any more.
      const words = earlier && earlier.words !== writtenWords(reading) ? earlier.words : null;
      const heard = words === null ? reading : withWords(reading, words);
      return {
        collectionId: this.collectionId,
        identity,
        pageId,
        pictureId: own.id,
        position: reading.order,
        reading,
        state: heard.state,
        wordsKey: wordsGroup({ appearance: heard }),
        place: reading.context.place,
        target: short(targetPath(gathered.address, reading.context.control?.href ?? null) ?? '') || null,
        purpose: earlier?.settled ? earlier.purpose : proposal.purpose,
        purposeSettled: earlier?.settled ?? false,
        purposeSure: proposal.sure,
        evidence: proposal.evidence,
        words,
        surveyId: this.surveyId,
        gone: false,
      };
    });
  }

  private async writeUnchanged(tx: Queryable, addresses: string[]): Promise<void> {
    const ids = sql`(select id from ${page} where collection_id = ${this.collectionId}
      and path in (select jsonb_array_elements_text(${JSON.stringify(addresses)}::jsonb)))`;
    await tx.execute(sql`update ${appearance} a set survey_id = ${this.surveyId} from ${page} p
      where p.id = a.page_id and p.survey_id = a.survey_id and not a.gone and p.id in ${ids}`);
    await tx.execute(sql`update ${page} set survey_id = ${this.surveyId}, gone = false where id in ${ids}`);
  }

  /** What this survey did not find is gone, with its words kept; says what is new, changed and gone. */
  async conclude(): Promise<SurveySummary> {
    const notSeen = (table: typeof page | typeof appearance) =>
      and(eq(table.collectionId, this.collectionId), ne(table.surveyId, this.surveyId), eq(table.gone, false));
    const gone = await this.db.update(page).set({ gone: true }).where(notSeen(page)).returning({ id: page.id });
    await this.db.update(appearance).set({ gone: true }).where(notSeen(appearance));
    const [pages] = await this.db
      .select({
        pages: sql`count(*)`.mapWith(Number),
        newPages: sql`count(*) filter (where first_survey_id = ${this.surveyId})`.mapWith(Number),
        changedPages:
          sql`count(*) filter (where changed_survey_id = ${this.surveyId} and first_survey_id <> ${this.surveyId})`.mapWith(
            Number,
          ),
      })
      .from(page)
      .where(and(eq(page.collectionId, this.collectionId), eq(page.gone, false)));
    const [states] = await this.db
      .select({
        pictures: sql`count(distinct picture_id)`.mapWith(Number),
        described: sql`count(*) filter (where state = 'described')`.mapWith(Number),
        decorative: sql`count(*) filter (where state = 'decorative')`.mapWith(Number),
        missing: sql`count(*) filter (where state = 'missing')`.mapWith(Number),
      })
      .from(appearance)
      .where(and(eq(appearance.collectionId, this.collectionId), eq(appearance.gone, false)));
    return { ...pages!, ...states!, gonePages: gone.length };
  }
}

/** Rises with what a reading holds. */
const READER = 2;

/** Of a picture that has no bytes. */
const NO_FILE = { sha256: null, type: null, bytes: null, width: null, height: null, broken: null, unread: null };

/** The picture of an appearance that shows no file is its own. */
function keyOfElement({ address }: GatheredPage, { context: { place }, order }: Appearance): string {
  return `element:${createHash('sha256').update(`${address}\n${place}\n${order}`).digest('hex')}`;
}

/** Bytes of an address that an index holds, with the other columns in it. */
const LONGEST_KEY = 2_000;

/** A `data:` address can be longer than an index entry may be. */
function short(address: string): string {
  // A UTF-16 code unit is three bytes at most; most addresses need no counting.
  if (3 * address.length <= LONGEST_KEY || Buffer.byteLength(address) <= LONGEST_KEY) return address;
  return `${address.slice(0, 200)}…${createHash('sha256').update(address).digest('hex')}`;
}
