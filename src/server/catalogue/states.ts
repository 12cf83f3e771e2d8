import { sql, type SQL } from 'drizzle-orm';
import { appearance, conflict, picture } from '../db/schema';

/**
 * Which pictures count as what: the one definition for the Shelf, the Brief, the spine and the Galley. The first four share
 * out all pictures that stand somewhere, each in one part.
 */
export const PICTURE_STATES = {
  /** A place of it has no words. */
  missing: sql`${picture.missing} > 0`,
  /** All of its places are settled, and a rule found something that fails or that somebody has to look at. */
  doubtful: sql`(${picture.missing} = 0 and ${picture.worst} <= 1)`,
  /** Decorative wherever it stands. */
  decorative: sql`(${picture.missing} = 0 and ${picture.worst} > 1 and ${picture.described} = 0)`,
  /** It has words, and nothing is wrong with them. */
  described: sql`(${picture.missing} = 0 and ${picture.worst} > 1 and ${picture.described} > 0)`,
  /** What an editor has to do: unsaid or doubtful. */
  todo: sql`(${picture.missing} > 0 or ${picture.worst} <= 1)`,
  draft: sql`${picture.drafts} > 0`,
  /** At a place of it somebody has to choose between two texts. */
  conflict: sql`${picture.id} in (select a.picture_id from ${conflict} k join ${appearance} a on a.id = k.appearance_id
    where k.settled_at is null and not a.gone)`,
} as const satisfies Record<string, SQL>;

export type PictureState = keyof typeof PICTURE_STATES;

/** How many pictures are in a state, as a column of a query on pictures. */
export const countOf = (state: PictureState) => sql`count(*) filter (where ${PICTURE_STATES[state]})`.mapWith(Number);
