import { UserError } from '@/core/model/user-error';
import { collectionById } from './collections';

/**
 * The id of the collection that a route is asked for.
 *
 * @throws HttpError 404 where there is none
 */
export async function collectionOf({ params }: { params: Promise<{ collection: string }> }): Promise<string> {
  const found = await collectionById((await params).collection);
  if (!found) throw new UserError('There is no such collection.', 404);
  return found.id;
}
