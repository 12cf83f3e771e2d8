import { answering } from '@/app/api/answering';
import { health } from '@/server/operations/health';

export const dynamic = 'force-dynamic';

/** Whether Detto can read and keep what it is given; when not, why, in words. */
export async function GET(request: Request): Promise<Response> {
  return answering(request, async () => {
    const { status, ...answer } = await health();
    return Response.json(answer, { status });
  });
}
