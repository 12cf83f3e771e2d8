import { health } from '@/server/operations/health';

export const dynamic = 'force-dynamic';

/** Whether Detto can read and keep what it is given; when not, why, in words. */
export async function GET(): Promise<Response> {
  const { status, ...answer } = await health();
  return Response.json(answer, { status });
}
