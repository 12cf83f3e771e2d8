import { answering } from '@/app/api/answering';
import { z } from 'zod';
import { collectionOf } from '@/server/catalogue/collection-of';
import { deliveryPreview } from '@/server/delivery/preview';

export const dynamic = 'force-dynamic';

interface Context {
  params: Promise<{ collection: string }>;
}

const After = z.coerce.number().int().nullable();

/** What a delivery would do, in parts, as far as it is prepared; `after` is the `next` of an earlier part. */
export const GET = (request: Request, context: Context): Promise<Response> =>
  answering(request, async () => {
    const after = After.parse(new URL(request.url).searchParams.get('after'));
    return Response.json(await deliveryPreview(await collectionOf(context), after));
  });
