import { and, eq, inArray, sql, type SQL } from 'drizzle-orm';
import type { Appearance, Purpose } from '@/core/model/appearance';
import type { Picture } from '@/core/model/picture';
import type { RuleStyle } from '@/core/rules/audit';
import { ruleContextOf, type RuleContext } from '@/core/model/rule-context';
import type { Phrase } from '@/core/words/phrases';
import { PICTURE_FACTS, toPicture } from '../catalogue/picture-rows';
import { pageOrder } from '../catalogue/page-order';
import type { Queryable } from '../db/database';
import { appearance, collection, page, picture, pictureSource } from '../db/schema';

const ALL = 2 ** 31 - 1;

/** An appearance as rules see it, with the ids of its picture and page. */
export type StoredRuleContext = RuleContext & { pictureId: number; pageId: number };

/** Appearances as the rules see them, with the accepted words in place. */
export async function ruleContexts(db: Queryable, where: SQL, limit = ALL): Promise<StoredRuleContext[]> {
  const rows = await db
    .select({
      id: appearance.id,
      pageId: appearance.pageId,
      // Parsed here: as text it comes over from the database's thread several times faster.
      reading: sql<Appearance>`${appearance.reading}::text`.mapWith(JSON.parse),
      texts: { words: appearance.words, title: appearance.title, caption: appearance.caption },
      purpose: appearance.purpose,
      purposeSettled: appearance.purposeSettled,
      picture: PICTURE_FACTS,
      page: {
        path: page.path,
        format: page.format,
        lang: page.lang,
        title: page.title,
        description: page.description,
        headings: page.headings,
        directives: page.directives,
      },
      collectionId: appearance.collectionId,
      target: appearance.target,
      isThumbnail: appearance.isThumbnail,
    })
    .from(appearance)
    .innerJoin(page, eq(page.id, appearance.pageId))
    .innerJoin(picture, eq(picture.id, appearance.pictureId))
    .where(and(eq(appearance.gone, false), where))
    .orderBy(pageOrder, appearance.position)
    .limit(limit);
  const titles = await titlesOf(db, rows);
  const variants = await variantsOf(db, rows);
  return rows.map(({ id, reading, texts, picture: p, target, purpose, ...row }) => ({
    ...ruleContextOf({
      id: String(id),
      page: row.page,
      picture: toPicture(p),
      appearance: reading,
      texts,
      target,
      purpose: purpose as Purpose,
      purposeSettled: row.purposeSettled,
      isThumbnail: row.isThumbnail,
      pictureAt: (address) => variants.get(address),
      titleAt: (path) => titles.get(path),
    }),
    pictureId: p.id,
    pageId: row.pageId,
  }));
}

/** Pictures that are candidates (`srcset`) of appearances, by address. */
async function variantsOf(
  db: Queryable,
  rows: readonly { collectionId: string; reading: Appearance }[],
): Promise<Map<string, Picture>> {
  const addresses = [...new Set(rows.flatMap((r) => r.reading.markup.candidates.flatMap((c) => c.address ?? [])))];
  if (addresses.length === 0) return new Map();
  const found = await db
    .select({ address: pictureSource.address, picture: PICTURE_FACTS })
    .from(pictureSource)
    .innerJoin(picture, eq(picture.id, pictureSource.pictureId))
    .where(and(eq(pictureSource.collectionId, rows[0]!.collectionId), inArray(pictureSource.address, addresses)));
  return new Map(found.map((f) => [f.address, toPicture(f.picture)]));
}

/** Titles of the pages that links lead to, by path, without those that many pages share. A join would be planned without knowing how few these are. */
export async function titlesOf(
  db: Queryable,
  rows: readonly { collectionId: string; target: string | null }[],
): Promise<Map<string, string>> {
  const paths = [...new Set(rows.flatMap((r) => r.target ?? []))];
  if (paths.length === 0) return new Map();
  const found = await db
    .select({ path: page.path, title: page.title })
    .from(page)
    .where(and(eq(page.collectionId, rows[0]!.collectionId), inArray(page.path, paths)));
  const [own] = await db
    .select({ common: collection.commonTitles })
    .from(collection)
    .where(eq(collection.id, rows[0]!.collectionId));
  const common = new Set(own?.common);
  return new Map(found.flatMap((f) => (common.has(f.title) ? [] : [[f.path, f.title]])));
}

/** The house style of a collection, the phrases that open or close too many of its texts, and the words of its own. */
export async function settingsOf(
  db: Queryable,
  collectionId: string,
): Promise<{ style: RuleStyle; phrases: Phrase[]; vocabulary: string }> {
  const [row] = await db
    .select({ style: collection.style, phrases: collection.phrases, vocabulary: collection.vocabulary })
    .from(collection)
    .where(eq(collection.id, collectionId));
  return row ?? { style: {}, phrases: [], vocabulary: '' };
}
