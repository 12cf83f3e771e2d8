import { createHash } from 'node:crypto';
import { and, eq, getTableColumns, inArray, ne, sql } from 'drizzle-orm';
import type { PgTable } from 'drizzle-orm/pg-core';
import type { Cause, SurveySummary } from '@/contract/survey';
import type { Appearance } from '@/core/appearance';
import { wordsGroup } from '@/core/audit';
import { proposePurpose } from '@/core/purpose/propose';
import { withWords, writtenWords } from '@/core/wording';
import { keepFile } from '../blobs/blobs';
import type { Database, Queryable } from '../db/database';
import { appearance, page, picture, pictureSource, visit } from '../db/schema';
import { toPicture, type PictureRow } from '../pictures/picture-rows';
import type { GatheredPage, GatheredPicture, KnownPage, SurveyStore, Waiting } from './engine';
import type { Skipped, Validators } from './source';

/** Rows in one insert: PostgreSQL takes 65,535 parameters. */
const BATCH = 500;

type PictureValues = Omit<typeof picture.$inferInsert, 'collectionId'> & { key: string };

interface GatheredRow extends Validators {
  address: string;
  /** Why it is no picture that can be shown; null when it is. */
  reason: string | null;
  cause: Cause | null;
  status: number | null;
  values: PictureValues;
}

type Settled = Pick<typeof visit.$inferInsert, 'kind' | 'address' | 'state' | 'reason' | 'cause' | 'status'>;
const DONE = { state: 'done', reason: null, cause: null } as const;

/** Keeps a survey in the database, so that it can be watched, stopped and taken up again. */
export class DatabaseStore implements SurveyStore {
  private counted = 0;
  /** Addresses of pages that this survey has met: links lead to the same ones again and again. */
  private readonly met = new Map<string, 'taken' | 'left'>();
  /** Addresses of pictures that this survey has gathered. */
  private readonly pictures = new Set<string>();
  /** Pictures that are gathered and not written yet. */
  private readonly gathered: (GatheredRow | { address: string; unchanged: true })[] = [];
  private writing: Promise<unknown> = Promise.resolve();

  private constructor(
    private readonly db: Database,
    private readonly collectionId: string,
    private readonly surveyId: number,
    private readonly maxPages: number,
    private readonly changed: () => void,
  ) {}

  /** Takes a survey up where it stands: what was being read when it broke off waits again. */
  static async open(
    db: Database,
    collectionId: string,
    surveyId: number,
    maxPages: number,
    changed: () => void,
  ): Promise<DatabaseStore> {
    const store = new DatabaseStore(db, collectionId, surveyId, maxPages, changed);
    await db
      .update(visit)
      .set({ state: 'waiting' })
      .where(and(eq(visit.surveyId, surveyId), eq(visit.state, 'reading')));
    const [row] = await db
      .select({ n: sql`count(*)`.mapWith(Number) })
      .from(visit)
      .where(and(eq(visit.surveyId, surveyId), eq(visit.kind, 'page'), sql`state in ('waiting', 'done')`));
    store.counted = row!.n;
    const visits = await db
      .select({ address: visit.address, kind: visit.kind, cause: visit.cause })
      .from(visit)
      .where(eq(visit.surveyId, surveyId));
    for (const { address, kind, cause } of visits) {
      if (kind === 'picture') store.pictures.add(address);
      else store.met.set(address, cause === 'nofollow' || cause === 'depth' ? 'left' : 'taken');
    }
    return store;
  }

  async enqueue(addresses: Waiting[]): Promise<void> {
    const limit = `over the limit of ${this.maxPages} pages`;
    const fresh = addresses.filter(({ address }) => this.met.get(short(address)) !== 'taken');
    for (const { address } of fresh) this.met.set(short(address), 'taken');
    for (const batch of inBatches(distinct(fresh))) {
      const room = Math.max(0, this.maxPages - this.counted);
      const values = batch.map((w, n) => ({
        ...w,
        address: short(w.address),
        surveyId: this.surveyId,
        kind: 'page' as const,
        ...(n < room
          ? { state: 'waiting' as const, reason: null, cause: null }
          : { state: 'skipped' as const, reason: limit, cause: 'limit' as const }),
      }));
      const added = await this.db
        .insert(visit)
        .values(values)
        .onConflictDoUpdate({
          target: [visit.surveyId, visit.kind, visit.address],
          set: excluded(visit, ['state', 'reason', 'cause', 'depth', 'foundOn']),
          // Left aside on one way, and on another not.
          setWhere: sql`${visit.cause} in ('nofollow', 'depth') and excluded.state = 'waiting'`,
        })
        .returning({ state: visit.state });
      this.counted += added.filter((a) => a.state === 'waiting').length;
    }
  }

  async leave(left: { address: string; foundOn: string; skipped: Skipped }[]): Promise<void> {
    const fresh = left.filter(({ address }) => !this.met.has(short(address)));
    for (const { address } of fresh) this.met.set(short(address), 'left');
    for (const batch of inBatches(distinct(fresh)))
      await this.db
        .insert(visit)
        .values(
          batch.map(({ address, foundOn, skipped }) => ({
            surveyId: this.surveyId,
            kind: 'page' as const,
            address: short(address),
            foundOn,
            state: 'skipped' as const,
            reason: skipped.reason,
            cause: skipped.why,
          })),
        )
        .onConflictDoNothing();
  }

  async next(): Promise<Waiting | null> {
    const first = sql`(select seq from ${visit} where ${visit.surveyId} = ${this.surveyId} and ${visit.kind} = 'page'
      and ${visit.state} = 'waiting' order by seq limit 1)`;
    const [row] = await this.db
      .update(visit)
      .set({ state: 'reading' })
      .where(and(eq(visit.surveyId, this.surveyId), eq(visit.seq, first)))
      .returning({ address: visit.address, depth: visit.depth, foundOn: visit.foundOn });
    return row ?? null;
  }

  async known(address: string): Promise<KnownPage | null> {
    const [row] = await this.db
      .select({
        sha256: page.source,
        links: page.links,
        pictures: page.pictures,
        etag: page.etag,
        lastModified: page.lastModified,
      })
      .from(page)
      .where(and(eq(page.collectionId, this.collectionId), eq(page.path, address), eq(page.gone, false)));
    return row ?? null;
  }

  async unchanged(address: string): Promise<void> {
    await this.write(async (tx) => {
      const [row] = await tx
        .select({ id: page.id, surveyId: page.surveyId })
        .from(page)
        .where(and(eq(page.collectionId, this.collectionId), eq(page.path, address)));
      if (!row) return;
      await tx.update(page).set({ surveyId: this.surveyId, gone: false }).where(eq(page.id, row.id));
      await tx
        .update(appearance)
        .set({ surveyId: this.surveyId })
        .where(and(eq(appearance.pageId, row.id), eq(appearance.surveyId, row.surveyId), eq(appearance.gone, false)));
      await this.settle(tx, [{ ...DONE, kind: 'page', address, status: 304 }]);
    });
    this.changed();
  }

  async page(gathered: GatheredPage): Promise<void> {
    const source = await keepFile(gathered.bytes);
    await this.write(async (tx) => {
      const { reading, address, status, sameKey } = gathered;
      if (sameKey !== null) {
        const [same] = await tx
          .select({ path: page.path })
          .from(page)
          .where(
            and(
              eq(page.collectionId, this.collectionId),
              eq(page.sameKey, sameKey),
              eq(page.surveyId, this.surveyId),
              ne(page.path, address),
            ),
          )
          .limit(1);
        if (same) {
          const reason = `the same page as ${same.path}`;
          return this.settle(tx, [{ kind: 'page', address, state: 'skipped', reason, cause: 'same-page', status }]);
        }
      }
      const values = {
        title: reading.title,
        lang: reading.lang,
        charset: reading.charset,
        transport: gathered.transport,
        source,
        ...gathered.validators,
        links: gathered.links,
        pictures: gathered.pictures,
        sameKey,
        directives: gathered.directives,
        surveyId: this.surveyId,
        changedSurveyId: this.surveyId,
        gone: false,
      };
      const [row] = await tx
        .insert(page)
        .values({ collectionId: this.collectionId, path: address, firstSurveyId: this.surveyId, ...values })
        .onConflictDoUpdate({ target: [page.collectionId, page.path], set: values })
        .returning({ id: page.id });
      await this.appearances(tx, row!.id, gathered);
      await this.settle(tx, [{ ...DONE, kind: 'page', address, status }]);
    });
    this.changed();
  }

  /** Writes one thing after the other, and before each the pictures that were gathered meanwhile. */
  private write(work: (tx: Queryable) => Promise<void>): Promise<void> {
    const done = this.writing.then(() =>
      this.db.transaction(async (tx) => {
        await this.writePictures(tx);
        await work(tx);
      }),
    );
    this.writing = done.catch(() => undefined);
    return done;
  }

  private async appearances(tx: Queryable, pageId: number, gathered: GatheredPage): Promise<void> {
    const shown = await this.picturesFor(tx, gathered);
    const ranks = new Map<string, number>();
    const rows = gathered.reading.appearances.map((reading) => {
      const own = shown[reading.order]!;
      const place = `${gathered.address}\n${own.key}\n${reading.place}`;
      const rank = ranks.get(place) ?? 0;
      ranks.set(place, rank + 1);
      const identity = createHash('sha256').update(`${place}\n${rank}`).digest('hex').slice(0, 40);
      return { reading, own, identity };
    });
    for (const batch of inBatches(rows)) {
      const known = await tx
        .select({
          identity: appearance.identity,
          words: appearance.words,
          purpose: appearance.purpose,
          settled: appearance.purposeSettled,
        })
        .from(appearance)
        .where(
          and(
            eq(appearance.collectionId, this.collectionId),
            inArray(
              appearance.identity,
              batch.map((r) => r.identity),
            ),
          ),
        );
      const before = new Map(known.map((k) => [k.identity, k]));
      const values = batch.map(({ reading, own, identity }) => {
        const earlier = before.get(identity);
        const proposal = proposePurpose(reading, toPicture(own));
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
          purpose: earlier?.settled ? earlier.purpose : proposal.purpose,
          evidence: proposal.evidence,
          words,
          surveyId: this.surveyId,
          gone: false,
        };
      });
      await tx
        .insert(appearance)
        .values(values)
        .onConflictDoUpdate({
          target: [appearance.collectionId, appearance.identity],
          set: excluded(appearance, [
            'pageId',
            'pictureId',
            'position',
            'reading',
            'state',
            'wordsKey',
            'purpose',
            'evidence',
            'words',
            'surveyId',
            'gone',
          ]),
        });
    }
    await tx
      .update(appearance)
      .set({ gone: true })
      .where(and(eq(appearance.pageId, pageId), sql`${appearance.surveyId} <> ${this.surveyId}`));
  }

  /** The picture that each appearance of a page shows, by order; one of its own where it shows no file. */
  private async picturesFor(tx: Queryable, gathered: GatheredPage): Promise<PictureRow[]> {
    const { reading, pictureOf } = gathered;
    const addresses = [...new Set(pictureOf.filter((a) => a !== null).map(short))];
    const found = new Map<string, PictureRow>();
    for (const batch of inBatches(addresses)) {
      const rows = await tx
        .select({ address: pictureSource.address, picture })
        .from(pictureSource)
        .innerJoin(picture, eq(picture.id, pictureSource.pictureId))
        .where(and(eq(pictureSource.collectionId, this.collectionId), inArray(pictureSource.address, batch)));
      for (const row of rows) found.set(row.address, row.picture);
    }
    const fileless = reading.appearances.filter((a) => !found.has(short(pictureOf[a.order] ?? '')));
    const keyOf = (a: Appearance) =>
      `element:${createHash('sha256').update(`${gathered.address}\n${a.place}\n${a.order}`).digest('hex')}`;
    const own = await this.upsertPictures(
      tx,
      fileless.map((a) => ({ key: keyOf(a), src: pictureOf[a.order] ?? a.src })),
    );
    return reading.appearances.map((a) => found.get(short(pictureOf[a.order] ?? '')) ?? own.get(keyOf(a))!);
  }

  /** Inserts or updates pictures with different keys; gives back the rows by key. */
  private async upsertPictures(
    tx: Queryable,
    values: (Omit<typeof picture.$inferInsert, 'collectionId'> & { key: string })[],
  ): Promise<Map<string, PictureRow>> {
    const rows = new Map<string, PictureRow>();
    for (const batch of inBatches(values)) {
      const written = await tx
        .insert(picture)
        .values(batch.map((v) => ({ ...v, collectionId: this.collectionId })))
        .onConflictDoUpdate({
          target: [picture.collectionId, picture.key],
          // The least of its addresses, so that the order in which they arrive does not matter.
          set: {
            ...excluded(picture, [
              'sha256',
              'type',
              'bytes',
              'width',
              'height',
              'broken',
              'unread',
              'lighter',
              'colours',
              'thumb',
            ]),
            src: sql`least(${picture.src}, excluded.src)`,
          },
        })
        .returning();
      for (const row of written) rows.set(row.key, row);
    }
    return rows;
  }

  async skip(address: string, { reason, why, status }: Skipped): Promise<void> {
    await this.write((tx) =>
      this.settle(tx, [{ kind: 'page', address, state: 'skipped', reason, cause: why, status }]),
    );
    this.changed();
  }

  private async settle(tx: Queryable, settled: Settled[]): Promise<void> {
    for (const batch of inBatches(distinct(settled)))
      await tx
        .insert(visit)
        .values(batch.map((v) => ({ ...v, address: short(v.address), surveyId: this.surveyId, settledAt: sql`now()` })))
        .onConflictDoUpdate({
          target: [visit.surveyId, visit.kind, visit.address],
          set: excluded(visit, ['state', 'reason', 'cause', 'status', 'settledAt']),
          // What was read stays read: a second way to a page may be too long or lead elsewhere.
          setWhere: sql`${visit.state} <> 'done'`,
        });
  }

  async hasPicture(address: string): Promise<boolean> {
    return this.pictures.has(short(address));
  }

  async knownPicture(address: string) {
    const [row] = await this.db
      .select({
        sha256: picture.sha256,
        etag: pictureSource.etag,
        lastModified: pictureSource.lastModified,
      })
      .from(pictureSource)
      .innerJoin(picture, eq(picture.id, pictureSource.pictureId))
      .where(and(eq(pictureSource.collectionId, this.collectionId), eq(pictureSource.address, short(address))));
    return row ?? null;
  }

  async pictureUnchanged(address: string): Promise<void> {
    this.pictures.add(short(address));
    this.gathered.push({ address: short(address), unchanged: true });
    this.changed();
  }

  /** A picture is written with the next page, so that a page and its pictures come together or not at all. */
  async picture(gathered: GatheredPicture): Promise<void> {
    const address = short(gathered.address);
    this.pictures.add(address);
    const src = /^(?:inline|data):/.test(address) ? null : address;
    const row: Omit<GatheredRow, 'values'> & { values: PictureValues } = gathered.found
      ? {
          address,
          reason: gathered.reading.broken,
          cause: gathered.reading.broken ? 'not-a-picture' : null,
          status: null,
          etag: gathered.etag,
          lastModified: gathered.lastModified,
          values: { key: gathered.reading.sha256, src, ...(await keep(gathered)) },
        }
      : {
          address,
          reason: gathered.skipped.reason,
          cause: gathered.skipped.why,
          status: gathered.skipped.status,
          etag: null,
          lastModified: null,
          values: {
            key: `address:${address}`,
            src,
            [gathered.skipped.notLookedAt ? 'unread' : 'broken']: gathered.skipped.reason,
          },
        };
    this.gathered.push(row);
    this.changed();
  }

  private async writePictures(tx: Queryable): Promise<void> {
    const gathered = this.gathered.splice(0);
    if (gathered.length === 0) return;
    try {
      const read = gathered.filter((g) => 'values' in g);
      const byKey = new Map<string, PictureValues>();
      for (const { values } of read) {
        const least = [byKey.get(values.key)?.src, values.src].filter((s) => typeof s === 'string').sort()[0] ?? null;
        byKey.set(values.key, { ...values, src: least });
      }
      const rows = await this.upsertPictures(tx, [...byKey.values()]);
      for (const batch of inBatches(distinct(read)))
        await tx
          .insert(pictureSource)
          .values(
            batch.map(({ address, etag, lastModified, values }) => ({
              collectionId: this.collectionId,
              address,
              etag,
              lastModified,
              pictureId: rows.get(values.key)!.id,
            })),
          )
          .onConflictDoUpdate({
            target: [pictureSource.collectionId, pictureSource.address],
            set: excluded(pictureSource, ['pictureId', 'etag', 'lastModified']),
          });
      await this.settle(
        tx,
        gathered.map((g) =>
          'values' in g
            ? {
                kind: 'picture',
                address: g.address,
                state: g.reason ? 'skipped' : 'done',
                reason: g.reason,
                cause: g.cause,
                status: g.status,
              }
            : { ...DONE, kind: 'picture', address: g.address, status: 304 },
        ),
      );
    } catch (error) {
      // Nothing of the transaction stays; the next one writes them.
      this.gathered.unshift(...gathered);
      throw error;
    }
  }

  async progress(): Promise<void> {
    this.changed();
  }

  /** Writes what no page took along. */
  async finish(): Promise<void> {
    await this.write(async () => undefined);
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
        said: sql`count(*) filter (where state = 'said')`.mapWith(Number),
        silent: sql`count(*) filter (where state = 'silent')`.mapWith(Number),
        unsaid: sql`count(*) filter (where state = 'unsaid')`.mapWith(Number),
      })
      .from(appearance)
      .where(and(eq(appearance.collectionId, this.collectionId), eq(appearance.gone, false)));
    return { ...pages!, ...states!, gonePages: gone.length };
  }
}

async function keep({ reading, bytes }: Extract<GatheredPicture, { found: true }>) {
  const { thumb, ...facts } = reading;
  if (reading.type) await keepFile(bytes);
  return { ...facts, unread: null, thumb: thumb ? await keepFile(thumb) : null };
}

/** One of each address, the last; an insert may not touch a row twice. */
function distinct<T extends { address: string }>(items: readonly T[]): T[] {
  return [...new Map(items.map((item) => [short(item.address), item])).values()];
}

function* inBatches<T>(items: readonly T[]): Generator<T[]> {
  for (let i = 0; i < items.length; i += BATCH) yield items.slice(i, i + BATCH);
}

/** The values that an insert proposed, for the columns that a conflict updates. */
function excluded<T extends PgTable>(table: T, columns: (keyof T['_']['columns'] & string)[]) {
  const all = getTableColumns(table);
  return Object.fromEntries(columns.map((name) => [name, sql`excluded.${sql.identifier(snake(all[name]!.name))}`]));
}

/** Column names are in camel case in the schema, and become snake case on the way (`casing` of the client). */
const snake = (name: string) => name.replace(/[A-Z]/g, (c) => `_${c.toLowerCase()}`);

/** A `data:` address can be longer than an index entry may be. */
function short(address: string): string {
  if (address.length <= 2000) return address;
  return `${address.slice(0, 200)}…${createHash('sha256').update(address).digest('hex')}`;
}
