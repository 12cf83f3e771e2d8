import { and, eq, inArray, sql } from 'drizzle-orm';
import type { DraftRecord } from '@/contract/drafting';
import type { GalleyView } from '@/contract/galley';
import { positionOf } from '@/core/model/appearance';
import type { Outcome } from '@/core/model/finding';
import type { Message } from '@/core/model/message';
import { pageText } from '@/core/model/texts';
import { ownTitle } from '@/core/words/page-title';
import { heard, notesOf, placeNotes, shownAppearances } from '../catalogue/lines';
import { conditions, order, placeConditions, placeOrder } from '../catalogue/views';
import { writersAt, type Writer } from '../catalogue/writers';
import { readFile } from '../blobs/blobs';
import { spoken } from '../catalogue/spoken';
import { among } from '../db/bulk';
import { database, type Queryable } from '../db/database';
import { appearance, page, picture } from '../db/schema';
import { sharedReaders } from '../workers/reader-pool';
import type { ShownRow } from './write-list';

/** Rows that are gathered at a time. */
const PORTION = 400;
/** Rows whose pictures a workbook shows: more make a file that no program likes to open. */
const MOST_SHOWN = 2_000;
/** Pixels of the longer side of such a picture. */
const SHOWN_SIDE = 168;

/** How the interface says what a list names, in the reader's language. */
export interface ListWords {
  finding(outcome: Outcome, message: Message): string;
  state(state: 'described' | 'decorative' | 'missing'): string;
  purpose(purpose: string): string;
  /** @param draft what the words came from; null of those that nobody drafted */
  writer(by: 'page' | 'person' | 'drafter', draft: DraftRecord | null): string;
}

/**
 * The rows of a view, in its order; by appearance, in the order of pages.
 *
 * @param by what a row is
 * @param isShown whether the first rows come with their pictures
 */
export async function* listRows(
  collectionId: string,
  view: GalleyView,
  by: 'picture' | 'appearance',
  words: ListWords,
  isShown = false,
): AsyncGenerator<ShownRow[]> {
  const db = await database();
  const where = conditions(collectionId, view);
  const byPage = { ...view, group: 'page' as const };
  const ids =
    by === 'picture'
      ? await db
          .select({ id: picture.id })
          .from(picture)
          .where(where)
          .orderBy(...order(view))
      : await db
          .select({ id: appearance.id })
          .from(appearance)
          .innerJoin(picture, eq(picture.id, appearance.pictureId))
          .innerJoin(page, eq(page.id, appearance.pageId))
          .where(and(where, placeConditions(byPage)))
          .orderBy(...placeOrder(byPage));
  for (let from = 0; from < ids.length; from += PORTION) {
    const some = ids.slice(from, from + PORTION).map((r) => r.id);
    const shown =
      by === 'picture'
        ? await shownAppearances(db, inArray(appearance.pictureId, some), view)
        : await shownAppearances(db, inArray(appearance.id, some));
    const of = new Map(shown.map((a) => [by === 'picture' ? a.pictureId : a.id, a]));
    const places = shown.map((a) => a.id);
    const notes = by === 'picture' ? await notesOf(db, some, places) : await placeNotes(db, places);
    const pictures = await db
      .select({
        id: picture.id,
        src: picture.src,
        reach: picture.reach,
        width: picture.width,
        height: picture.height,
        bytes: picture.bytes,
        thumb: picture.thumb,
      })
      .from(picture)
      .where(
        inArray(
          picture.id,
          shown.map((a) => a.pictureId),
        ),
      );
    const writers = await writersAt(db, places);
    const pictureOf = new Map(pictures.map((p) => [p.id, p]));
    const same = by === 'picture' ? await placesByText(db, some) : null;
    const thumbs = isShown && from < MOST_SHOWN ? await thumbsOf(pictures) : null;
    yield some.flatMap((id): ShownRow[] => {
      const a = of.get(id);
      const p = a && pictureOf.get(a.pictureId);
      if (!a || !p) return [];
      const own = notes.filter((n) => (by === 'picture' ? n.pictureId === a.pictureId : n.appearanceId === a.id));
      return [
        {
          appearance: a.id,
          page: a.path,
          pageTitle: ownTitle(a.page),
          line: a.reading.location.kind === 'script' ? null : positionOf(a.reading).line,
          picture: p.src ?? a.reading.markup.src,
          state: words.state(a.state),
          alt: heard(a.reading, a.words),
          newAlt: '',
          places: same && (same.get(`${id} ${textKey(a.state, heard(a.reading, a.words))}`) ?? 1),
          title: a.title ?? pageText(a.reading, 'title'),
          caption: a.caption ?? pageText(a.reading, 'caption'),
          purpose: words.purpose(a.purpose),
          findings: own.map((n) => words.finding(n.outcome, n.message)).join(' '),
          writtenBy: writerOf(a, writers.get(a.id), words),
          uses: p.reach,
          width: p.width,
          height: p.height,
          bytes: p.bytes,
          ...(thumbs ? { thumb: thumbs.get(p.id) ?? null } : {}),
        },
      ];
    });
  }
}

/** What tells whether two places of a picture say the same. */
export const textKey = (state: string, text: string | null): string =>
  state === 'described' ? `described ${(text ?? '').replace(/\s+/g, ' ').trim()}` : state;

/** How many places of each picture say what, by picture and {@link textKey}. */
async function placesByText(db: Queryable, pictures: readonly number[]): Promise<Map<string, number>> {
  const rows = await db
    .select({
      picture: appearance.pictureId,
      state: appearance.state,
      text: spoken.as('text'),
      places: sql`count(*)`.mapWith(Number),
    })
    .from(appearance)
    .where(and(eq(appearance.gone, false), among(appearance.pictureId, pictures)))
    .groupBy(appearance.pictureId, appearance.state, sql`3`);
  const out = new Map<string, number>();
  for (const { picture: id, state, text, places } of rows) {
    const key = `${id} ${textKey(state, text)}`;
    out.set(key, (out.get(key) ?? 0) + places);
  }
  return out;
}

/** Small copies of pictures as JPEG, which every program shows; one that cannot be drawn is left out. */
async function thumbsOf(pictures: readonly { id: number; thumb: string | null }[]): Promise<Map<number, Uint8Array>> {
  const drawn = await Promise.all(
    pictures.map(async ({ id, thumb }) => {
      const bytes = thumb && (await readFile(thumb).catch(() => null));
      return [
        id,
        bytes &&
          (await sharedReaders()
            .viewToSend(bytes, SHOWN_SIDE)
            .catch(() => null)),
      ] as const;
    }),
  );
  return new Map(drawn.filter((d): d is readonly [number, Buffer] => Boolean(d[1])));
}

function writerOf(a: { state: string; words: string | null }, writer: Writer | undefined, words: ListWords): string {
  if (a.state === 'missing') return '';
  return a.words === null || !writer ? words.writer('page', null) : words.writer(writer.by, writer.draft);
}
