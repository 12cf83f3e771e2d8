import { collectionById } from '@/server/catalogue/collections';
import { deliveryDiff, deliveryZip } from '@/server/delivery/delivery';
import { answering, HttpError } from '@/server/http/answers';

export const dynamic = 'force-dynamic';

interface Context {
  params: Promise<{ collection: string; form: string }>;
}

/** The mended pages: `pages.zip`, or `changes.diff` as one unified diff. Both fetch the pages again, so they are asked for. */
export async function POST(_: Request, context: Context): Promise<Response> {
  return answering(async () => {
    const { collection, form } = await context.params;
    const c = await collectionById(collection);
    if (!c || (form !== 'pages.zip' && form !== 'changes.diff')) throw new HttpError(404, 'There is nothing here.');
    const zip = form === 'pages.zip';
    const body = zip ? await deliveryZip(c) : await deliveryDiff(c);
    return new Response(new Uint8Array(body), {
      headers: {
        'content-type': zip ? 'application/zip' : 'application/octet-stream',
        'content-disposition': `attachment; filename="${c.id}-${form}"`,
        'cache-control': 'no-store',
      },
    });
  });
}
