import { and, asc, eq, gt, inArray, isNotNull } from 'drizzle-orm';
import { isThumbnailOf, mayBeThumbnail, type SizedFile } from '@/core/purpose/thumbnail';
import { among } from '../db/bulk';
import type { Database } from '../db/database';
import { appearance, page, picture } from '../db/schema';

/** Appearances that are looked at together. */
const WINDOW = 5_000;

/** Notes which appearances of a collection are thumbnails: those that lead to a page which shows the same picture larger. */
export async function markThumbnails(db: Database, collectionId: string): Promise<void> {
  const linked = and(
    eq(appearance.collectionId, collectionId),
    eq(appearance.gone, false),
    isNotNull(appearance.target),
  )!;
  for (let last = 0; ;) {
    const rows = await db
      .select({
        id: appearance.id,
        isThumbnail: appearance.isThumbnail,
        pageId: appearance.pageId,
        target: page.id,
        file: { src: picture.src, width: picture.width, height: picture.height },
      })
      .from(appearance)
      .innerJoin(picture, eq(picture.id, appearance.pictureId))
      .leftJoin(page, and(eq(page.collectionId, appearance.collectionId), eq(page.path, appearance.target)))
      .where(and(linked, gt(appearance.id, last)))
      .orderBy(asc(appearance.id))
      .limit(WINDOW);
    if (rows.length === 0) return;
    last = rows.at(-1)!.id;
    const there = await filesOn(db, [...new Set(rows.flatMap((r) => r.target ?? []))]);
    const found = rows.filter(
      (r) => r.target !== null && r.target !== r.pageId && isThumbnailOf(r.file, there.get(r.target) ?? []),
    );
    const are = await standingAsThumbnails(
      db,
      found.map((r) => r.id),
    );
    for (const is of [true, false]) {
      const changed = rows.filter((r) => r.isThumbnail !== is && are.has(r.id) === is).map((r) => r.id);
      if (changed.length > 0) await db.update(appearance).set({ isThumbnail: is }).where(among(appearance.id, changed));
    }
  }
}

/** The pictures' files on some pages, by the pages' ids. */
async function filesOn(db: Database, pages: readonly number[]): Promise<Map<number, SizedFile[]>> {
  const on = new Map<number, SizedFile[]>();
  if (pages.length === 0) return on;
  const rows = await db
    .selectDistinct({ pageId: appearance.pageId, src: picture.src, width: picture.width, height: picture.height })
    .from(appearance)
    .innerJoin(picture, eq(picture.id, appearance.pictureId))
    .where(and(inArray(appearance.pageId, [...pages]), eq(appearance.gone, false)));
  for (const { pageId, ...file } of rows) {
    const known = on.get(pageId);
    if (known) known.push(file);
    else on.set(pageId, [file]);
  }
  return on;
}

/** Those that do not belong to the frame of the site, by where they stand. Read only of the few that lead to a larger copy. */
async function standingAsThumbnails(db: Database, ids: readonly number[]): Promise<Set<number>> {
  if (ids.length === 0) return new Set();
  const rows = await db
    .select({ id: appearance.id, reading: appearance.reading })
    .from(appearance)
    .where(among(appearance.id, ids));
  return new Set(rows.filter((r) => mayBeThumbnail(r.reading)).map((r) => r.id));
}
