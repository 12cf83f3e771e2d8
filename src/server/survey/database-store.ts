import { createHash } from 'node:crypto';
import { and, eq, sql } from 'drizzle-orm';
import type { Appearance } from '@/core/appearance';
import { wordsGroup } from '@/core/audit';
import { proposePurpose } from '@/core/purpose/propose';
import { withWords, writtenWords } from '@/core/wording';
import { keepFile } from '../blobs/blobs';
import type { Database, Queryable } from '../db/database';
import { appearance, page, picture, pictureSource, visit } from '../db/schema';
import { toPicture } from '../pictures/picture-rows';
import type { GatheredPage, GatheredPicture, SurveyStore } from './engine';

/** Rows in one insert: PostgreSQL takes 65,535 parameters. */
const BATCH = 500;

/** Keeps a survey in the database, so that it can be watched, stopped and taken up again. */
export class DatabaseStore implements SurveyStore {
  private known = 0;

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
    await this.db.transaction(async (tx) => {
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
      await this.settle(tx, 'page', gathered.address, 'done', null);
    });
    this.changed();
  }

  private async appearances(tx: Queryable, pageId: number, gathered: GatheredPage): Promise<void> {
    const ranks = new Map<string, number>();
    for (const reading of gathered.reading.appearances) {
      const address = gathered.pictureOf[reading.order] ?? null;
      const shown = await this.pictureFor(tx, reading, address, gathered.address);
      const place = `${gathered.address}\n${shown.key}\n${reading.place}`;
      const rank = ranks.get(place) ?? 0;
      ranks.set(place, rank + 1);
      const identity = createHash('sha256').update(`${place}\n${rank}`).digest('hex').slice(0, 40);
      const proposal = proposePurpose(reading, toPicture(shown));
      const [before] = await tx
        .select({ words: appearance.words, purpose: appearance.purpose, settled: appearance.purposeSettled })
        .from(appearance)
        .where(and(eq(appearance.collectionId, this.collectionId), eq(appearance.identity, identity)));
      // Words that the page says by now need no delivery any more.
      const words = before && before.words !== writtenWords(reading) ? before.words : null;
      const heard = words === null ? reading : withWords(reading, words);
      const values = {
        pageId,
        pictureId: shown.id,
        position: reading.order,
        reading,
        state: heard.state,
        wordsKey: wordsGroup({ appearance: heard }),
        purpose: before?.settled ? before.purpose : proposal.purpose,
        evidence: proposal.evidence,
        words,
        surveyId: this.surveyId,
        gone: false,
      };
      await tx
        .insert(appearance)
        .values({ collectionId: this.collectionId, identity, ...values })
        .onConflictDoUpdate({ target: [appearance.collectionId, appearance.identity], set: values });
    }
    await tx
      .update(appearance)
      .set({ gone: true })
      .where(and(eq(appearance.pageId, pageId), sql`${appearance.surveyId} <> ${this.surveyId}`));
  }

  /** The picture an appearance shows; one of its own where it shows no file. */
  private async pictureFor(tx: Queryable, a: Appearance, address: string | null, pagePath: string) {
    if (address !== null) {
      const [found] = await tx
        .select({ picture })
        .from(pictureSource)
        .innerJoin(picture, eq(picture.id, pictureSource.pictureId))
        .where(and(eq(pictureSource.collectionId, this.collectionId), eq(pictureSource.address, short(address))));
      if (found) return found.picture;
    }
    const key = `element:${createHash('sha256').update(`${pagePath}\n${a.place}\n${a.order}`).digest('hex')}`;
    return this.upsertPicture(tx, key, { src: address ?? a.src });
  }

  private async upsertPicture(tx: Queryable, key: string, values: Partial<typeof picture.$inferInsert>) {
    const [row] = await tx
      .insert(picture)
      .values({ ...values, collectionId: this.collectionId, key })
      .onConflictDoUpdate({ target: [picture.collectionId, picture.key], set: { ...values, key } })
      .returning();
    return row!;
  }

  async skip(address: string, reason: string): Promise<void> {
    await this.settle(this.db, 'page', address, 'skipped', reason);
    this.changed();
  }

  private async settle(
    tx: Queryable,
    kind: 'page' | 'picture',
    address: string,
    state: 'done' | 'skipped',
    reason: string | null,
  ): Promise<void> {
    await tx
      .insert(visit)
      .values({ surveyId: this.surveyId, kind, address: short(address), state, reason })
      .onConflictDoUpdate({
        target: [visit.surveyId, visit.kind, visit.address],
        set: { state, reason },
        // What was read stays read: a second way to a page may be too long or lead elsewhere.
        setWhere: sql`${visit.state} <> 'done'`,
      });
  }

  async hasPicture(address: string): Promise<boolean> {
    const [row] = await this.db
      .select({ state: visit.state })
      .from(visit)
      .where(and(eq(visit.surveyId, this.surveyId), eq(visit.kind, 'picture'), eq(visit.address, short(address))));
    return row !== undefined;
  }

  async picture(gathered: GatheredPicture): Promise<void> {
    const address = short(gathered.address);
    const src = /^(?:inline|data):/.test(address) ? null : address;
    const key = gathered.found ? gathered.reading.sha256 : `address:${address}`;
    const stored = gathered.found ? await this.keep(gathered) : { broken: gathered.broken, unread: gathered.unread };
    await this.db.transaction(async (tx) => {
      const [known] = await tx
        .select({ src: picture.src })
        .from(picture)
        .where(and(eq(picture.collectionId, this.collectionId), eq(picture.key, key)));
      // The least of its addresses, so that the order in which they arrive does not matter.
      const least = [known?.src, src].filter((s) => typeof s === 'string').sort()[0] ?? null;
      const row = await this.upsertPicture(tx, key, { ...stored, src: least });
      await tx
        .insert(pictureSource)
        .values({ collectionId: this.collectionId, address, pictureId: row.id })
        .onConflictDoUpdate({
          target: [pictureSource.collectionId, pictureSource.address],
          set: { pictureId: row.id },
        });
      const reason = gathered.found ? gathered.reading.broken : (gathered.broken ?? gathered.unread);
      await this.settle(tx, 'picture', address, reason ? 'skipped' : 'done', reason);
    });
    this.changed();
  }

  private async keep({ reading, bytes }: Extract<GatheredPicture, { found: true }>) {
    const { thumb, ...facts } = reading;
    if (reading.type) await keepFile(bytes);
    return { ...facts, unread: null, thumb: thumb ? await keepFile(thumb) : null };
  }

  async progress(): Promise<void> {
    this.changed();
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

/** A `data:` address can be longer than an index entry may be. */
function short(address: string): string {
  if (address.length <= 2000) return address;
  return `${address.slice(0, 200)}…${createHash('sha256').update(address).digest('hex')}`;
}
