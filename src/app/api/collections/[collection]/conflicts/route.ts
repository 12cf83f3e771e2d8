import { answering } from '@/app/api/answering';
import { collectionById, countsOf } from '@/server/catalogue/collections';
import { database } from '@/server/db/database';
import { UserError } from '@/core/model/user-error';
import { openConflicts } from '@/server/wordings/conflicts';

export const dynamic = 'force-dynamic';

export async function GET(request: Request, context: { params: Promise<{ collection: string }> }): Promise<Response> {
  return answering(request, async () => {
    const c = await collectionById((await context.params).collection);
    if (!c) throw new UserError('There is no such collection.', 404);
    const { conflicts: total } = await countsOf(c.id);
    return Response.json({ total, conflicts: await openConflicts(await database(), c.id) });
  });
}
