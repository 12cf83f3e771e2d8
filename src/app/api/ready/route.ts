import { answering } from '@/app/api/answering';
import { health } from '@/server/operations/health';

export const dynamic = 'force-dynamic';

/** Whether this process may be sent requests: its database answers, and what is saved can be kept. */
export async function GET(request: Request): Promise<Response> {
  return answering(request, async () => {
    const { state, message } = await health();
    return Response.json({ ready: state === 'ok', message }, { status: state === 'ok' ? 200 : 503 });
  });
}
