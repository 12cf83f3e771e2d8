import { answering } from '@/app/api/answering';
import { jsonBody } from '@/server/http/bodies';
import { z } from 'zod';
import { pauseRound, resumeRound, retryFailures, stopRound } from '@/server/drafting/rounds';
import { collectionOf } from '@/server/catalogue/collection-of';

export const dynamic = 'force-dynamic';

const TURNS = { pause: pauseRound, resume: resumeRound, stop: stopRound, retry: retryFailures };
const Wanted = z.object({ turn: z.enum(['pause', 'resume', 'stop', 'retry']) });

/** Pauses, resumes or stops a round, or asks again for what failed in it. */
export const POST = (
  request: Request,
  context: { params: Promise<{ collection: string; round: string }> },
): Promise<Response> =>
  answering(request, async () => {
    const collection = await collectionOf(context);
    const id = z.coerce
      .number()
      .int()
      .positive()
      .parse((await context.params).round);
    const { turn } = Wanted.parse(await jsonBody(request));
    await TURNS[turn](collection, id);
    return new Response(null, { status: 204 });
  });
