import { answering } from '@/app/api/answering';
import { jsonBody } from '@/server/http/bodies';
import { z } from 'zod';
import { Act } from '@/contract/acts';
import { DrafterChoice } from '@/contract/drafting';
import { draftPage } from '@/server/drafting/reading';
import { draftNow } from '@/server/drafting/single-drafts';
import { collectionOf } from '@/server/catalogue/collection-of';
import { UserError } from '@/core/model/user-error';

export const dynamic = 'force-dynamic';

const Wanted = z.object({
  service: DrafterChoice,
  hint: z.string().trim().max(400).nullable().default(null),
  act: Act,
});

/** Asks for another draft in place of one, with what an editor adds. */
export const POST = (
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
    const wanted = Wanted.parse(await jsonBody(request));
    const before = await draftPage(collection, id);
    if (!before) throw new UserError('This draft waits no more.', 404);
    const places = [before.appearanceId, ...before.places.filter((p) => p !== before.appearanceId)];
    const draft = await draftNow(collection, places, wanted);
    return Response.json({ drafted: draft !== null });
  });
