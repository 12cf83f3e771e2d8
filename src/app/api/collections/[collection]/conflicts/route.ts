import { collectionById } from '@/server/catalogue/collections';
import { database } from '@/server/db/database';
import { answering, HttpError } from '@/server/http/answers';
import { countConflicts, openConflicts } from '@/server/wordings/conflicts';

export const dynamic = 'force-dynamic';

/** The places with two texts between which somebody has to choose, the oldest first. */
export async function GET(_: Request, context: { params: Promise<{ collection: string }> }): Promise<Response> {
  return answering(async () => {
    const c = await collectionById((await context.params).collection);
    if (!c) throw new HttpError(404, 'There is no such collection.');
    const db = await database();
    return Response.json({ total: await countConflicts(db, c.id), conflicts: await openConflicts(db, c.id) });
  });
}
