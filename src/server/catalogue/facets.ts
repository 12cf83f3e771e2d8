import { and, eq, sql } from 'drizzle-orm';
import type { Facets } from '@/contract/galley';
import { SURE, type Kind } from '@/core/model/picture-analysis';
import { database } from '../db/database';
import { page, picture } from '../db/schema';
import { countOf, type PictureState } from './states';

/** How many pictures each choice of the Galley would show. */
export async function galleyFacets(collectionId: string): Promise<Facets> {
  const db = await database();
  const mine = and(eq(picture.collectionId, collectionId), sql`${picture.appearances} > 0`)!;
  // Pictures with the same rules and kind together, so that all of them are read once.
  const groups = await db
    .select({
      rules: picture.rules,
      kind: sql<Kind | null>`case when ${picture.kindSure} >= ${SURE} then ${picture.kind} end`.as('sure_kind'),
      all: sql`count(*)`.mapWith(Number),
      todo: countOf('todo'),
      doubtful: countOf('doubtful'),
      missing: countOf('missing'),
      described: countOf('described'),
      decorative: countOf('decorative'),
      draft: countOf('draft'),
      conflict: countOf('conflict'),
      appearances: sql`sum(appearances)`.mapWith(Number),
    })
    .from(picture)
    .where(mine)
    .groupBy(picture.rules, sql`sure_kind`);
  const total = (of: PictureState | 'all' | 'appearances') => groups.reduce((sum, g) => sum + g[of], 0);
  const rules = new Map<string, number>();
  const kinds = new Map<Kind, number>();
  for (const g of groups) {
    for (const rule of g.rules) rules.set(rule, (rules.get(rule) ?? 0) + g.all);
    if (g.kind !== null) kinds.set(g.kind, (kinds.get(g.kind) ?? 0) + g.all);
  }
  const [pages] = await db
    .select({ n: sql`count(*)`.mapWith(Number) })
    .from(page)
    .where(and(eq(page.collectionId, collectionId), eq(page.gone, false)));
  return {
    all: total('all'),
    todo: total('todo'),
    doubtful: total('doubtful'),
    conflict: total('conflict'),
    missing: total('missing'),
    described: total('described'),
    decorative: total('decorative'),
    draft: total('draft'),
    appearances: total('appearances'),
    rules: [...rules].map(([rule, pictures]) => ({ rule, pictures })),
    kinds: [...kinds].map(([kind, pictures]) => ({ kind, pictures })).sort((a, b) => b.pictures - a.pictures),
    pages: pages!.n,
  };
}
