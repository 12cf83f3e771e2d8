import { answering } from '@/app/api/answering';
import { jsonBody } from '@/server/http/bodies';
import { z } from 'zod';
import { tryInstructions } from '@/server/drafting/trial';
import { collectionOf } from '@/server/catalogue/collection-of';

export const dynamic = 'force-dynamic';

const Wanted = z.object({
  service: z.number().int().positive(),
  instructions: z.string().trim().min(1).max(4_000),
});

/** Drafts of five pictures with the instructions as they are and as they might be, side by side; nothing is kept. */
export const POST = (request: Request, context: { params: Promise<{ collection: string }> }): Promise<Response> =>
  answering(request, async () => {
    const collection = await collectionOf(context);
    const { service, instructions } = Wanted.parse(await jsonBody(request));
    return Response.json(await tryInstructions(collection, service, instructions));
  });
