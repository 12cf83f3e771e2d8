import { createHash } from 'node:crypto';
import { and, eq, inArray, sql } from 'drizzle-orm';
import { isSideBySide, type Appearance } from '@/core/model/appearance';
import { wordsGroup } from '@/core/rules/audit';
import { hrefOf } from '@/core/purpose/thumbnail';
import { targetPath } from '@/core/formats/html/target';
import { withTexts, writtenWords } from '@/core/model/wording';
import { Vocabulary } from '@/core/words/vocabulary';
import { proposePurpose } from '@/core/purpose/propose';
import { keepFiles } from '../blobs/blobs';
import { insertRows, onConflictUpdate } from '../db/bulk';
import type { Queryable } from '../db/database';
import { appearance, collection, page, picture, pictureSource, visit } from '../db/schema';
import { short } from './frontier';
import {
  appearancesBefore,
  keepPageChanges,
  keepReplaced,
  pageChange,
  stillWaiting,
  type AppearanceBefore,
  type PageChange,
  type Replaced,
} from './page-changes';
import { sortKeyOf, type GatheredPage } from './store';
import type { PictureValues, WriteBuffer } from './write-buffer';

/** The picture at an address, as the appearances of a page need it. */
export interface Shown {
  id: number;
  key: string;
  width: number | null;
  height: number | null;
}

/** What is in the database already of the collection that is surveyed. */
export interface KnownRows {
  /** Addresses of pages that earlier surveys have stored. */
  readonly pages: Set<string>;
  /** By address. */
  readonly shown: Map<string, Shown>;
}

/** Writes what a survey has gathered: a page comes with its pictures and appearances, or not at all. */
export class PageWriter {
  /** Read when the first page is written. */
  private vocabulary: Vocabulary | null = null;

  constructor(
    private readonly collectionId: string,
    private readonly surveyId: number,
    private readonly known: KnownRows,
  ) {}

  /** Writes a batch: files first, then pictures, pages with their appearances, and the log. */
  async write(tx: Queryable, batch: WriteBuffer): Promise<void> {
    await keepFiles(tx, batch.files);
    const fileless = await this.writePictures(tx, batch);
    if (batch.pages.length > 0) await this.writePages(tx, batch, fileless);
    await this.writeVocabulary(tx, batch);
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
  private async writePictures(tx: Queryable, batch: WriteBuffer): Promise<Map<string, Shown>> {
    const wanted = new Map<string, PictureValues>(batch.pictures);
    for (const { gathered } of batch.pages)
      for (const a of gathered.reading.appearances) {
        const address = gathered.pictureOf[a.order] ?? null;
        const known = address !== null && (this.known.shown.has(short(address)) || batch.sources.has(short(address)));
        if (known) continue;
        const key = keyOfElement(gathered, a);
        wanted.set(key, { collectionId: this.collectionId, ...NO_FILE, key, src: address ?? a.markup.src });
      }
    const written = await insertRows<typeof picture, Shown>(
      tx,
      picture,
      [...wanted.values()].map((values) => ({ ...values, firstSurveyId: this.surveyId })),
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
      this.known.shown.set(address, row);
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

  private async writePages(tx: Queryable, { pages }: WriteBuffer, fileless: ReadonlyMap<string, Shown>): Promise<void> {
    const columns = [
      'format',
      'document',
      'sortKey',
      'title',
      'description',
      'headings',
      'lang',
      'charset',
      'transport',
      'frontMatter',
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
        format: g.format,
        document: g.document,
        sortKey: sortKeyOf(g),
        title: g.reading.title,
        description: g.reading.description,
        headings: g.reading.headings,
        lang: g.reading.lang,
        charset: g.reading.charset,
        transport: g.transport,
        frontMatter: g.frontMatter && [...g.frontMatter],
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
        // A page that scripts make is read again each time, and may be as it was all the same.
        // A page of a document is read with all the others, changed or not.
        sql`, changed_survey_id = case when not page.gone and page.shows_key = excluded.shows_key
          and (page.rendered and excluded.rendered or page.format <> 'html') then page.changed_survey_id else excluded.changed_survey_id end`,
      )} returning id, path`,
    );
    const pageIds = new Map(written.map(({ id, path }) => [path, id]));
    const again = [...pageIds].filter(([path]) => this.known.pages.has(path)).map(([, id]) => id);
    const before = await appearancesBefore(tx, again);
    const changes: PageChange[] = [];
    const replaced: Replaced[] = [];
    const rows = pages.flatMap(({ gathered }) =>
      this.appearancesOf(gathered, pageIds.get(gathered.address)!, fileless, before, { changes, replaced }),
    );
    await insertRows(
      tx,
      appearance,
      rows,
      onConflictUpdate<typeof appearance>(
        ['collectionId', 'identity'],
        [
          ...(['pageId', 'pictureId', 'position', 'reading', 'state', 'wordsKey'] as const),
          ...(['name', 'region', 'lang', 'shownWidth', 'area', 'isSideBySide'] as const),
          ...(['place', 'target', 'purpose', 'purposeSure', 'evidence', 'words', 'surveyId', 'gone'] as const),
          ...(['title', 'caption', 'creditLine'] as const),
        ],
      ),
    );
    await keepPageChanges(tx, this.collectionId, this.surveyId, changes);
    await keepReplaced(tx, this.collectionId, this.surveyId, replaced);
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
    noted: { changes: PageChange[]; replaced: Replaced[] },
  ): (typeof appearance.$inferInsert)[] {
    const ranks = new Map<string, number>();
    return gathered.reading.appearances.map((reading) => {
      const own =
        this.known.shown.get(short(gathered.pictureOf[reading.order] ?? '')) ??
        fileless.get(keyOfElement(gathered, reading))!;
      const place = `${gathered.address}\n${own.key}\n${reading.context.place}`;
      const rank = ranks.get(place) ?? 0;
      ranks.set(place, rank + 1);
      const identity = createHash('sha256').update(`${place}\n${rank}`).digest('hex').slice(0, 40);
      const earlier = before.get(identity);
      const proposal = proposePurpose(reading, own);
      const change = earlier ? pageChange(identity, earlier, writtenWords(reading)) : null;
      if (change) noted.changes.push(change);
      const { replaced, ...waiting } = stillWaiting(earlier, reading);
      if (replaced.length > 0) noted.replaced.push({ identity, fields: replaced });
      // Words that the page says by now need no delivery any more.
      const words = earlier && earlier.words !== writtenWords(reading) ? earlier.words : null;
      const heard = withTexts(reading, { ...waiting, words });
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
        ...filteredBy(reading),
        target: short(targetPath(gathered.address, hrefOf(reading)) ?? '') || null,
        purpose: earlier?.settled ? earlier.purpose : proposal.purpose,
        purposeSettled: earlier?.settled ?? false,
        purposeSure: proposal.sure,
        evidence: proposal.evidence,
        words,
        ...waiting,
        surveyId: this.surveyId,
        gone: false,
      };
    });
  }

  /** Adds the words that the collection's text is full of by now. */
  private async writeVocabulary(tx: Queryable, { pages }: WriteBuffer): Promise<void> {
    if (pages.length === 0) return;
    const mine = eq(collection.id, this.collectionId);
    if (!this.vocabulary) {
      const [row] = await tx.select({ words: collection.vocabulary }).from(collection).where(mine);
      this.vocabulary = new Vocabulary(row?.words.split(' ').filter(Boolean));
    }
    const fresh = pages.flatMap(({ gathered }) => this.vocabulary!.add(gathered.reading.words));
    if (fresh.length === 0 || this.vocabulary.words.size > MOST_WORDS) return;
    await tx
      .update(collection)
      .set({ vocabulary: sql`ltrim(${collection.vocabulary} || ' ' || ${fresh.join(' ')})` })
      .where(mine);
  }

  private async writeUnchanged(tx: Queryable, addresses: string[]): Promise<void> {
    const ids = sql`(select id from ${page} where collection_id = ${this.collectionId}
      and path in (select jsonb_array_elements_text(${JSON.stringify(addresses)}::jsonb)))`;
    await tx.execute(sql`update ${appearance} a set survey_id = ${this.surveyId} from ${page} p
      where p.id = a.page_id and p.survey_id = a.survey_id and not a.gone and p.id in ${ids}`);
    await tx.execute(sql`update ${page} set survey_id = ${this.surveyId}, gone = false where id in ${ids}`);
  }
}

const INTEGER_MAX = 2 ** 31 - 1;

/** What lists and counts ask of very many readings at once, in columns of their own. */
function filteredBy(reading: Appearance) {
  const { width, height } = reading.layout;
  return {
    name: reading.accessible.name,
    region: reading.context.region,
    lang: reading.context.lang,
    shownWidth: width === null || width > INTEGER_MAX ? null : Math.round(width),
    area: width === null || height === null ? null : width * height,
    isSideBySide: isSideBySide(reading),
  };
}

/** Words of a collection beyond which no more are kept: some 300 KB. */
const MOST_WORDS = 40_000;

/** Rises with what a reading holds. */
export const READER = 4;

/** Of a picture that has no bytes. */
export const NO_FILE = { sha256: null, type: null, bytes: null, width: null, height: null, broken: null, unread: null };

/** The picture of an appearance that shows no file is its own. */
function keyOfElement({ address }: GatheredPage, { context: { place }, order }: Appearance): string {
  return `element:${createHash('sha256').update(`${address}\n${place}\n${order}`).digest('hex')}`;
}
