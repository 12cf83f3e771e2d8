import { createHash } from 'node:crypto';
import { and, eq, getTableColumns, inArray, sql } from 'drizzle-orm';
import type { PgTable } from 'drizzle-orm/pg-core';
import type { Appearance } from '@/core/appearance';
import { wordsGroup } from '@/core/audit';
import { proposePurpose } from '@/core/purpose/propose';
import { withWords, writtenWords } from '@/core/wording';
import { keepFile } from '../blobs/blobs';
import type { Database, Queryable } from '../db/database';
import { appearance, page, picture, pictureSource, visit } from '../db/schema';
import { toPicture, type PictureRow } from '../pictures/picture-rows';
import type { GatheredPage, GatheredPicture, SurveyStore } from './engine';

/** Rows in one insert: PostgreSQL takes 65,535 parameters. */
const BATCH = 500;

type GatheredRow = Omit<typeof picture.$inferInsert, 'collectionId'> & {
  key: string;
  address: string;
  /** Why it is no picture that can be shown; null when it is. */
  reason: string | null;
};

/** Keeps a survey in the database, so that it can be watched, stopped and taken up again. */
export class DatabaseStore implements SurveyStore {
  private known = 0;
  /** Addresses of pictures that this survey has gathered. */
  private pictures = new Set<string>();
  /** Pictures that are gathered and not written yet. */
  private readonly gathered: GatheredRow[] = [];
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
    store.known = row!.n;
    const pictures = await db
      .select({ address: visit.address })
      .from(visit)
      .where(and(eq(visit.surveyId, surveyId), eq(visit.kind, 'picture')));
    store.pictures = new Set(pictures.map((p) => p.address));
    return store;
  }

  async enqueue(addresses: { address: string; depth: number }[]): Promise<void> {
    for (let i = 0; i < addresses.length; i += BATCH) {
      const batch = addresses.slice(i, i + BATCH);
      const room = Math.max(0, this.maxPages - this.known);
      const values = batch.map(({ address, depth }, n) => ({
        surveyId: this.surveyId,
        kind: 'page' as const,
        address,
        depth,
        ...(n < room
          ? { state: 'waiting' as const }
          : { state: 'skipped' as const, reason: `over the limit of ${this.maxPages} pages` }),
      }));
      const added = await this.db.insert(visit).values(values).onConflictDoNothing().returning({ state: visit.state });
      this.known += added.filter((a) => a.state === 'waiting').length;
    }
  }

  async next(): Promise<{ address: string; depth: number } | null> {
    const first = sql`(select seq from ${visit} where ${visit.surveyId} = ${this.surveyId} and ${visit.kind} = 'page'
      and ${visit.state} = 'waiting' order by seq limit 1)`;
    const [row] = await this.db
      .update(visit)
      .set({ state: 'reading' })
      .where(and(eq(visit.surveyId, this.surveyId), eq(visit.seq, first)))
      .returning({ address: visit.address, depth: visit.depth });
    return row ?? null;
  }

  async page(gathered: GatheredPage): Promise<void> {
    const source = await keepFile(gathered.bytes);
    await this.write(async (tx) => {
      const { reading } = gathered;
      const values = {
        title: reading.title,
        lang: reading.lang,
        charset: reading.charset,
        transport: gathered.transport,
        source,
        surveyId: this.surveyId,
        gone: false,
      };
      const [row] = await tx
        .insert(page)
        .values({ collectionId: this.collectionId, path: gathered.address, ...values })
        .onConflictDoUpdate({ target: [page.collectionId, page.path], set: values })
        .returning({ id: page.id });
      await this.appearances(tx, row!.id, gathered);
      await this.settle(tx, [{ kind: 'page', address: gathered.address, state: 'done', reason: null }]);
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

  async skip(address: string, reason: string): Promise<void> {
    await this.write((tx) => this.settle(tx, [{ kind: 'page', address, state: 'skipped', reason }]));
    this.changed();
  }

  private async settle(
    tx: Queryable,
    settled: { kind: 'page' | 'picture'; address: string; state: 'done' | 'skipped'; reason: string | null }[],
  ): Promise<void> {
    for (const batch of inBatches(settled))
      await tx
        .insert(visit)
        .values(batch.map((v) => ({ ...v, address: short(v.address), surveyId: this.surveyId })))
        .onConflictDoUpdate({
          target: [visit.surveyId, visit.kind, visit.address],
          set: excluded(visit, ['state', 'reason']),
          // What was read stays read: a second way to a page may be too long or lead elsewhere.
          setWhere: sql`${visit.state} <> 'done'`,
        });
  }

  async hasPicture(address: string): Promise<boolean> {
    return this.pictures.has(short(address));
  }

  /** A picture is written with the next page, so that a page and its pictures come together or not at all. */
  async picture(gathered: GatheredPicture): Promise<void> {
    const address = short(gathered.address);
    this.pictures.add(address);
    const src = /^(?:inline|data):/.test(address) ? null : address;
    this.gathered.push(
      gathered.found
        ? { address, key: gathered.reading.sha256, reason: gathered.reading.broken, src, ...(await keep(gathered)) }
        : {
            address,
            key: `address:${address}`,
            reason: gathered.broken ?? gathered.unread,
            src,
            broken: gathered.broken,
            unread: gathered.unread,
          },
    );
    this.changed();
  }

  private async writePictures(tx: Queryable): Promise<void> {
    const gathered = this.gathered.splice(0);
    if (gathered.length === 0) return;
    try {
      const byKey = new Map<string, Omit<GatheredRow, 'address' | 'reason'>>();
      for (const { address: _address, reason: _reason, ...values } of gathered) {
        const least = [byKey.get(values.key)?.src, values.src].filter((s) => typeof s === 'string').sort()[0] ?? null;
        byKey.set(values.key, { ...values, src: least });
      }
      const rows = await this.upsertPictures(tx, [...byKey.values()]);
      for (const batch of inBatches(gathered))
        await tx
          .insert(pictureSource)
          .values(
            batch.map(({ address, key }) => ({
              collectionId: this.collectionId,
              address,
              pictureId: rows.get(key)!.id,
            })),
          )
          .onConflictDoUpdate({
            target: [pictureSource.collectionId, pictureSource.address],
            set: excluded(pictureSource, ['pictureId']),
          });
      await this.settle(
        tx,
        gathered.map(({ address, reason }) => ({
          kind: 'picture',
          address,
          state: reason ? 'skipped' : 'done',
          reason,
        })),
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

  /** What the last complete survey did not find is gone, with its words kept. */
  async markGone(): Promise<void> {
    for (const table of [page, appearance])
      await this.db
        .update(table)
        .set({ gone: true })
        .where(and(eq(table.collectionId, this.collectionId), sql`${table.surveyId} <> ${this.surveyId}`));
  }
}

async function keep({ reading, bytes }: Extract<GatheredPicture, { found: true }>) {
  const { thumb, ...facts } = reading;
  if (reading.type) await keepFile(bytes);
  return { ...facts, unread: null, thumb: thumb ? await keepFile(thumb) : null };
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
