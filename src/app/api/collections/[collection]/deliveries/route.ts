import { answering } from '@/app/api/answering';
import { StartDelivery } from '@/contract/delivery';
import { collectionOf, wholeCollectionOf } from '@/server/catalogue/collection-of';
import { deliveriesOf, deliveryById, startDelivery } from '@/server/delivery/deliveries';
import { jsonBody } from '@/server/http/bodies';

export const dynamic = 'force-dynamic';

interface Context {
  params: Promise<{ collection: string }>;
}

/** The latest deliveries of a collection, the last one first. */
export const GET = (request: Request, context: Context): Promise<Response> =>
  answering(request, async () => Response.json(await deliveriesOf(await collectionOf(context))));

/** Starts to deliver in the background. */
export const POST = (request: Request, context: Context): Promise<Response> =>
  answering(request, async () => {
    const c = await wholeCollectionOf(context);
    const { target, configuration } = StartDelivery.parse(await jsonBody(request));
    const id = await startDelivery(c, target, configuration);
    return Response.json(await deliveryById(c.id, id), { status: 202 });
  });
