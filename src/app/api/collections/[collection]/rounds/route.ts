import { answering } from '@/app/api/answering';
import { jsonBody } from '@/server/http/bodies';
import { z } from 'zod';
import { RoundOrder } from '@/contract/drafting';
import { listRounds, startRound } from '@/server/drafting/rounds';
import { collectionOf } from '@/server/catalogue/collection-of';

export const dynamic = 'force-dynamic';

interface Context {
  params: Promise<{ collection: string }>;
}

/** The rounds of a collection, the latest first. */
export const GET = (request: Request, context: Context): Promise<Response> =>
  answering(request, async () => Response.json(await listRounds(await collectionOf(context))));

const Wanted = z.object({ order: RoundOrder, consents: z.boolean().default(false) });

/** Starts a round; `consents` agrees that pictures are sent to the host of the service. */
export const POST = (request: Request, context: Context): Promise<Response> =>
  answering(request, async () => {
    const collection = await collectionOf(context);
    const { order, consents } = Wanted.parse(await jsonBody(request));
    return Response.json({ id: await startRound(collection, order, consents) }, { status: 201 });
  });
