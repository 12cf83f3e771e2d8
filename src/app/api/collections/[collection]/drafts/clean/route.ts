import { answering } from '@/app/api/answering';
import { jsonBody } from '@/server/http/bodies';
import { z } from 'zod';
import { Act } from '@/contract/acts';
import { ReadingView } from '@/contract/drafting';
import { acceptClean } from '@/server/drafting/reading';
import { collectionOf } from '@/server/catalogue/collection-of';

export const dynamic = 'force-dynamic';

const Wanted = z.object({
  view: ReadingView,
  by: z.string().trim().max(80).nullable().default(null),
  act: Act,
});

/** Accepts all drafts in which nothing was found, once a sample was read. */
export const POST = (request: Request, context: { params: Promise<{ collection: string }> }): Promise<Response> =>
  answering(request, async () => {
    const collection = await collectionOf(context);
    const { view, by, act } = Wanted.parse(await jsonBody(request));
    return Response.json({ places: await acceptClean(collection, view, by, act) });
  });
