import { answering } from '@/app/api/answering';
import { z } from 'zod';
import { GalleyView } from '@/contract/galley';
import { queueAt } from '@/server/catalogue/views';

export const dynamic = 'force-dynamic';

/** Where a picture stands in a view, with those around it. */
export async function GET(request: Request, context: { params: Promise<{ collection: string }> }): Promise<Response> {
  return answering(request, async () => {
    const query = Object.fromEntries(new URL(request.url).searchParams);
    const picture = z.coerce.number().int().positive().parse(query['picture']);
    return Response.json(await queueAt((await context.params).collection, GalleyView.parse(query), picture));
  });
}
