import { collectionById, countsOf } from '@/server/catalogue/collections';
import { database } from '@/server/db/database';
import { answering, HttpError } from '@/server/http/answers';
import { openConflicts } from '@/server/wordings/conflicts';

export const dynamic = 'force-dynamic';

export async function GET(_: Request, context: { params: Promise<{ collection: string }> }): Promise<Response> {
  return answering(async () => {
    const c = await collectionById((await context.params).collection);
    if (!c) throw new HttpError(404, 'There is no such collection.');
    const { conflicts: total } = await countsOf(c.id);
    return Response.json({ total, conflicts: await openConflicts(await database(), c.id) });
  });
}
