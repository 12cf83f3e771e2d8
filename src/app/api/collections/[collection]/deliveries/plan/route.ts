import { answering } from '@/app/api/answering';
import { StartDelivery } from '@/contract/delivery';
import { wholeCollectionOf } from '@/server/catalogue/collection-of';
import { planOfTarget } from '@/server/delivery/target-plan';
import { jsonBody } from '@/server/http/bodies';

export const dynamic = 'force-dynamic';

interface Context {
  params: Promise<{ collection: string }>;
}

/** What a target would do with the documents as they are prepared; nothing is touched. */
export const POST = (request: Request, context: Context): Promise<Response> =>
  answering(
    request,
    async () => {
      const c = await wholeCollectionOf(context);
      const { target, configuration } = StartDelivery.parse(await jsonBody(request));
      return Response.json(await planOfTarget(c, target, configuration));
    },
    { isSlow: true },
  );
