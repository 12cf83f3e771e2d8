import { answering } from '@/app/api/answering';
import { collectionById, countsOf } from '@/server/catalogue/collections';
import { UserError } from '@/core/model/user-error';

export const dynamic = 'force-dynamic';

export async function GET(request: Request, context: { params: Promise<{ collection: string }> }): Promise<Response> {
  return answering(request, async () => {
    const c = await collectionById((await context.params).collection);
    if (!c) throw new UserError('There is no such collection.', 404);
    return Response.json(await countsOf(c.id));
  });
}
