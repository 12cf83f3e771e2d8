import { answering } from '@/app/api/answering';
import { jsonBody } from '@/server/http/bodies';
import { RoundOrder } from '@/contract/drafting';
import { estimateRound } from '@/server/drafting/rounds';
import { collectionOf } from '@/server/catalogue/collection-of';

export const dynamic = 'force-dynamic';

/** What a round would do, cost and send. */
export const POST = (request: Request, context: { params: Promise<{ collection: string }> }): Promise<Response> =>
  answering(request, async () => {
    const collection = await collectionOf(context);
    return Response.json(await estimateRound(collection, RoundOrder.parse(await jsonBody(request))));
  });
