import { and, inArray, sql, type SQL } from 'drizzle-orm';
import { among } from '../db/bulk';
import type { Queryable } from '../db/database';
import { appearance } from '../db/schema';

/** Appearances of one picture, page or text that are looked at together. */
export const MOST_TOGETHER = 2000;

/** What appearances are taken together by: their picture, their page, or what they say. */
export type GroupColumn = typeof appearance.pictureId | typeof appearance.pageId | typeof appearance.wordsKey;

/** Groups of appearances taken together until there are enough; one that is larger comes alone. */
export function* windows<K>(groups: readonly { key: K; n: number }[], most: number): Generator<K[]> {
  let keys: K[] = [];
  let size = 0;
  for (const { key, n } of groups) {
    if (size > 0 && size + n > most) {
      yield keys;
      [keys, size] = [[], 0];
    }
    keys.push(key);
    size += n;
  }
  if (keys.length > 0) yield keys;
}

/** What is read, looked at and written at a time. */
export interface Portion {
  /** Pictures, pages or words. */
  chosen: (string | number)[];
  where: SQL;
  /** All appearances of what was chosen are in it. */
  isWhole: boolean;
}

/**
 * The appearances of what was chosen. Of a picture, a page or a text with very many of them they come in several portions,
 * so that nobody has to wait for all of them and memory does not grow with them; what rules say of a set is said of each
 * portion then.
 */
export async function* portionsOf(
  db: Queryable,
  column: GroupColumn,
  present: SQL,
  chosen: Iterable<(string | number)[]>,
): AsyncGenerator<Portion> {
  for (const keys of chosen) {
    const where = and(present, amongKeys(column, keys))!;
    if (keys.length > 1) {
      yield { chosen: keys, where, isWhole: true };
      continue;
    }
    const rows = await db.select({ id: appearance.id }).from(appearance).where(where).orderBy(appearance.id);
    if (rows.length <= MOST_TOGETHER) yield { chosen: keys, where, isWhole: true };
    else
      for (let i = 0; i < rows.length; i += MOST_TOGETHER) {
        const ids = rows.slice(i, i + MOST_TOGETHER).map((r) => r.id);
        yield { chosen: keys, where: among(appearance.id, ids), isWhole: false };
      }
  }
}

/** Words are asked for by their hash, which is what the index holds. */
const amongKeys = (column: GroupColumn, keys: readonly (string | number)[]): SQL =>
  column === appearance.wordsKey
    ? sql`md5(${column}) in (select md5(k) from unnest(${sql.param(keys)}::text[]) k) and ${column} = any(${sql.param(keys)}::text[])`
    : inArray(sql`${column}`, [...keys]);
