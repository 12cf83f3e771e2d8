import { and, eq, inArray } from 'drizzle-orm';
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
import { database } from '../db/database';
import { appearance, page, picture } from '../db/schema';
import type { ListRow } from './list-table';

/** Rows that are gathered at a time. */
const PORTION = 400;

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
 */
export async function* listRows(
  collectionId: string,
  view: GalleyView,
  by: 'picture' | 'appearance',
  words: ListWords,
): AsyncGenerator<ListRow[]> {
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
    yield some.flatMap((id): ListRow[] => {
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
          title: a.title ?? pageText(a.reading, 'title'),
          caption: a.caption ?? pageText(a.reading, 'caption'),
          purpose: words.purpose(a.purpose),
          findings: own.map((n) => words.finding(n.outcome, n.message)).join(' '),
          writtenBy: writerOf(a, writers.get(a.id), words),
          uses: p.reach,
          width: p.width,
          height: p.height,
          bytes: p.bytes,
        },
      ];
    });
  }
}

function writerOf(a: { state: string; words: string | null }, writer: Writer | undefined, words: ListWords): string {
  if (a.state === 'missing') return '';
  return a.words === null || !writer ? words.writer('page', null) : words.writer(writer.by, writer.draft);
}
