import { and, eq, isNotNull, isNull, type SQL } from 'drizzle-orm';
import { picture } from '../db/schema';

/** Pictures of a collection that Detto may look at. */
export const analysable = (collectionId: string): SQL =>
  and(eq(picture.collectionId, collectionId), isNotNull(picture.type), isNull(picture.unread))!;
