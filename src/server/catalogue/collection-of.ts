import { UserError } from '@/core/model/user-error';
import { collectionById, type Collection } from './collections';

interface Asked {
  params: Promise<{ collection: string }>;
}

/**
 * The collection that a route is asked for.
 *
 * @throws UserError 404 where there is none
 */
export async function wholeCollectionOf({ params }: Asked): Promise<Collection> {
  const found = await collectionById((await params).collection);
  if (!found) throw new UserError('There is no such collection.', 404);
  return found;
}

/**
 * The id of the collection that a route is asked for.
 *
 * @throws UserError 404 where there is none
 */
export const collectionOf = async (asked: Asked): Promise<string> => (await wholeCollectionOf(asked)).id;
