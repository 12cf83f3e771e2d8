import { answering } from '@/app/api/answering';
import { settingsOf } from '@/server/audit/rule-contexts';
import { database } from '@/server/db/database';

export const dynamic = 'force-dynamic';

/** The words of a collection's own text, parted by spaces, for the worker that audits while one writes. */
export async function GET(request: Request, context: { params: Promise<{ collection: string }> }): Promise<Response> {
  return answering(request, async () => {
    const { vocabulary } = await settingsOf(await database(), (await context.params).collection);
    return new Response(vocabulary, { headers: { 'content-type': 'text/plain; charset=utf-8' } });
  });
}
