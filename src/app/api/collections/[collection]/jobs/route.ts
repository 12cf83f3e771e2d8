import { answering } from '@/app/api/answering';
import { progressOf } from '@/server/jobs/progress';

export const dynamic = 'force-dynamic';

/** What is done in the background for a collection. */
export async function GET(request: Request, context: { params: Promise<{ collection: string }> }): Promise<Response> {
  return answering(request, async () => Response.json(await progressOf((await context.params).collection)));
}
