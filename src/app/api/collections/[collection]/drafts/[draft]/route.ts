import { answering } from '@/app/api/answering';
import { z } from 'zod';
import { draftPage } from '@/server/drafting/reading';
import { collectionOf } from '@/server/catalogue/collection-of';
import { UserError } from '@/core/model/user-error';

export const dynamic = 'force-dynamic';

/** One draft with all that is needed to decide about it. */
export const GET = (
  request: Request,
  context: { params: Promise<{ collection: string; draft: string }> },
): Promise<Response> =>
  answering(request, async () => {
    const collection = await collectionOf(context);
    const id = z.coerce
      .number()
      .int()
      .positive()
      .parse((await context.params).draft);
    const page = await draftPage(collection, id);
    if (!page) throw new UserError('This draft waits no more.', 404);
    return Response.json(page);
  });
