import { answering } from '@/app/api/answering';
import { wholeCollectionOf } from '@/server/catalogue/collection-of';
import { deliveryById } from '@/server/delivery/deliveries';

export const dynamic = 'force-dynamic';

interface Context {
  params: Promise<{ collection: string; delivery: string }>;
}

/** One delivery as it is now. */
export const GET = (request: Request, context: Context): Promise<Response> =>
  answering(request, async () => {
    const c = await wholeCollectionOf(context);
    return Response.json(await deliveryById(c.id, Number((await context.params).delivery)));
  });
