import { z } from 'zod';
import { draftPage } from '@/server/drafting/reading';
import { collectionOf } from '@/server/catalogue/collection-of';
import { answering, HttpError } from '@/server/http/answers';

export const dynamic = 'force-dynamic';

/** One draft with all that is needed to decide about it. */
export const GET = (
  _: Request,
  context: { params: Promise<{ collection: string; draft: string }> },
): Promise<Response> =>
  answering(async () => {
    const collection = await collectionOf(context);
    const id = z.coerce
      .number()
      .int()
      .positive()
      .parse((await context.params).draft);
    const page = await draftPage(collection, id);
    if (!page) throw new HttpError(404, 'This draft waits no more.');
    return Response.json(page);
  });
