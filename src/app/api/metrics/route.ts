import { answering } from '@/app/api/answering';
import { METRICS_TYPE, metricsText } from '@/server/operations/metrics';

export const dynamic = 'force-dynamic';

/** Measures of this process, in the text format of Prometheus. */
export async function GET(request: Request): Promise<Response> {
  return answering(
    request,
    async () => new Response(await metricsText(), { headers: { 'content-type': METRICS_TYPE } }),
  );
}
