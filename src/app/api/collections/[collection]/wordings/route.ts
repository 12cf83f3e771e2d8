import { answering } from '@/app/api/answering';
import { jsonBody } from '@/server/http/bodies';
import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { Act, OwnActs } from '@/contract/acts';
import { Target } from '@/contract/target';
import { collectionById } from '@/server/catalogue/collections';
import { UserError } from '@/core/model/user-error';
import { placesOf } from '@/server/wordings/targets';
import { saveWords } from '@/server/wordings/wordings';

export const dynamic = 'force-dynamic';

const Wanted = z.object({
  target: Target,
  /** `''` for decorative; null gives back what the page says. */
  text: z.string().max(20_000).nullable(),
  by: z.enum(['person', 'drafter']).default('person'),
  /** The revision that the text was written from; without it, nothing is checked against. */
  since: z.number().int().nonnegative().optional(),
  act: Act.optional(),
  after: OwnActs,
});

/**
 * Keeps a wording at some places. Where others have worded them since, both texts are kept, and the answer is 409. Of all
 * places of a picture, those where it is the only name of a link or button are not made decorative.
 */
export async function PUT(request: Request, context: { params: Promise<{ collection: string }> }): Promise<Response> {
  return answering(request, async () => {
    const c = await collectionById((await context.params).collection);
    if (!c) throw new UserError('There is no such collection.', 404);
    const { target, text, since, by, after, act = randomUUID() } = Wanted.parse(await jsonBody(request));
    const places = await placesOf(c.id, target);
    if (places.length === 0) throw new UserError('There are no such places.', 404);
    const wanted = places.filter((p) => text !== '' || target.kind === 'places' || !p.namesControl);
    const answer = await saveWords({
      ...{ collectionId: c.id, appearanceIds: wanted.map((p) => p.id), text, act, by, after },
      ...(since === undefined ? {} : { since }),
    });
    return Response.json({ act, ...answer }, { status: answer.conflicts.length > 0 ? 409 : 200 });
  });
}
