import { answering } from '@/app/api/answering';
import { bulkState } from '@/server/bulk/bulk';
import { UserError } from '@/core/model/user-error';

export const dynamic = 'force-dynamic';

interface Context {
  params: Promise<{ collection: string; act: string }>;
}

/** How far an act on many places is. */
export async function GET(request: Request, context: Context): Promise<Response> {
  return answering(request, async () => {
    const { collection, act } = await context.params;
    const state = await bulkState(collection, act);
    if (!state) throw new UserError('There is no such act.', 404);
    return Response.json(state);
  });
}
