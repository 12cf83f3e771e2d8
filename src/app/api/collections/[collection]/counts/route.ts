import { collectionById, countsOf } from '@/server/catalogue/collections';
import { answering, HttpError } from '@/server/http/answers';

export const dynamic = 'force-dynamic';

export async function GET(_: Request, context: { params: Promise<{ collection: string }> }): Promise<Response> {
  return answering(async () => {
    const c = await collectionById((await context.params).collection);
    if (!c) throw new HttpError(404, 'There is no such collection.');
    return Response.json(await countsOf(c.id));
  });
}
