import { bulkState } from '@/server/bulk/bulk';
import { answering, HttpError } from '@/server/http/answers';

export const dynamic = 'force-dynamic';

interface Context {
  params: Promise<{ collection: string; act: string }>;
}

/** How far an act on many places is. */
export async function GET(_: Request, context: Context): Promise<Response> {
  return answering(async () => {
    const { collection, act } = await context.params;
    const state = await bulkState(collection, act);
    if (!state) throw new HttpError(404, 'There is no such act.');
    return Response.json(state);
  });
}
