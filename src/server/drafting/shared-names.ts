import { eq } from 'drizzle-orm';
import { sharedNameParts, type SharedNameParts } from '@/core/picture/file-name-words';
import type { Queryable } from '../db/database';
import { picture } from '../db/schema';

/** Pictures whose names are compared to find what they share: enough for a collection of any size. */
const SAMPLE = 2_000;
/** How long that holds, in milliseconds: a round of drafts asks for each of thousands. */
const CACHE_TTL_MS = 60_000;

let last: { collectionId: string; at: number; shared: SharedNameParts } | null = null;

/** What the file names of a collection's pictures share. */
export async function sharedNamesOf(tx: Queryable, collectionId: string): Promise<SharedNameParts> {
  if (last?.collectionId === collectionId && performance.now() - last.at < CACHE_TTL_MS) return last.shared;
  const rows = await tx
    .select({ src: picture.src })
    .from(picture)
    .where(eq(picture.collectionId, collectionId))
    .orderBy(picture.id)
    .limit(SAMPLE);
  const shared = sharedNameParts(rows.flatMap((r) => r.src ?? []));
  last = { collectionId, at: performance.now(), shared };
  return shared;
}
