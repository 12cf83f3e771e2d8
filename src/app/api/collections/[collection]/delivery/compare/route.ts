import { answering } from '@/app/api/answering';
import { wholeCollectionOf } from '@/server/catalogue/collection-of';
import { beginPreview, deliveryPreview } from '@/server/delivery/preview';

export const dynamic = 'force-dynamic';

interface Context {
  params: Promise<{ collection: string }>;
}

/** Compares everything that waits for delivery with the documents as they are now, in the background. */
export const POST = (request: Request, context: Context): Promise<Response> =>
  answering(request, async () => {
    const c = await wholeCollectionOf(context);
    await beginPreview(c, 0);
    return Response.json(await deliveryPreview(c.id, null), { status: 202 });
  });
