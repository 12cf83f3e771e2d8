import { answering } from '@/app/api/answering';
import { jsonBody } from '@/server/http/bodies';
import { z } from 'zod';
import { Act } from '@/contract/acts';
import { Decision, ReadingView } from '@/contract/drafting';
import { decideDrafts, readingList } from '@/server/drafting/reading';
import { collectionOf } from '@/server/catalogue/collection-of';

export const dynamic = 'force-dynamic';

interface Context {
  params: Promise<{ collection: string }>;
}

/** The drafts that wait to be read, of one round or of all. */
export const GET = (request: Request, context: Context): Promise<Response> =>
  answering(request, async () => {
    const collection = await collectionOf(context);
    const view = ReadingView.parse(Object.fromEntries(new URL(request.url).searchParams));
    return Response.json(await readingList(collection, view));
  });

const Wanted = z.object({
  ids: z.array(z.number().int().positive()).min(1).max(10_000),
  decision: Decision,
  act: Act,
});

/** Accepts or rejects drafts, or marks their places decorative. */
export const POST = (request: Request, context: Context): Promise<Response> =>
  answering(request, async () => {
    const collection = await collectionOf(context);
    const { ids, decision, act } = Wanted.parse(await jsonBody(request));
    return Response.json({ places: await decideDrafts(collection, ids, decision, act) });
  });
