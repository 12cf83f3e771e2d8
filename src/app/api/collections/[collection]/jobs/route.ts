import { answering } from '@/server/http/answers';
import { progressOf } from '@/server/jobs/progress';

export const dynamic = 'force-dynamic';

/** What is done in the background for a collection. */
export async function GET(_: Request, context: { params: Promise<{ collection: string }> }): Promise<Response> {
  return answering(async () => Response.json(await progressOf((await context.params).collection)));
}
