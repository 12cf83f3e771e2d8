import { answering } from '@/app/api/answering';
import { jsonBody } from '@/server/http/bodies';
import { z } from 'zod';
import { BulkWork } from '@/contract/bulk';
import { Target } from '@/contract/target';
import { startBulk } from '@/server/bulk/bulk';
import { previewBulk } from '@/server/bulk/plan';
import { collectionById } from '@/server/catalogue/collections';
import { UserError } from '@/core/model/user-error';

export const dynamic = 'force-dynamic';

const Wanted = z.object({
  target: Target,
  work: BulkWork,
  /** Under which it can be undone; without it, nothing is done and the answer says what would be. */
  act: z.string().min(8).max(64).optional(),
});

/** Does something to many places, or says what that would do. */
export async function POST(request: Request, context: { params: Promise<{ collection: string }> }): Promise<Response> {
  return answering(request, async () => {
    const c = await collectionById((await context.params).collection);
    if (!c) throw new UserError('There is no such collection.', 404);
    const { target, work, act } = Wanted.parse(await jsonBody(request));
    if (act === undefined) return Response.json(await previewBulk(c.id, target, work));
    const state = await startBulk(c.id, target, work, act);
    return Response.json(state, { status: state.state === 'running' ? 202 : 200 });
  });
}
