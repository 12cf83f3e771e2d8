import { surveyProgress, watchSurvey } from '@/server/survey/surveys';

export const dynamic = 'force-dynamic';

const LEAST_MS = 250;

/** Server-sent events: the survey's progress at once, then whenever it changes, until it is over. */
export async function GET(request: Request, context: { params: Promise<{ survey: string }> }): Promise<Response> {
  const id = Number((await context.params).survey);
  const first = Number.isInteger(id) ? await surveyProgress(id) : null;
  if (!first) return Response.json({ error: 'There is no such survey.' }, { status: 404 });
  const encoder = new TextEncoder();
  let stop = () => {};
  const stream = new ReadableStream<Uint8Array>({
    start(controller) {
      let timer: NodeJS.Timeout | null = null;
      let unwatch = () => {};
      stop = () => {
        unwatch();
        if (timer) clearTimeout(timer);
        timer = null;
      };
      const send = async () => {
        timer = null;
        const progress = await surveyProgress(id);
        if (request.signal.aborted || !progress) return;
        controller.enqueue(encoder.encode(`data: ${JSON.stringify(progress)}\n\n`));
        if (progress.state === 'running') return;
        stop();
        controller.close();
      };
      unwatch = watchSurvey(id, () => {
        timer ??= setTimeout(() => void send().catch(() => stop()), LEAST_MS);
      });
      request.signal.addEventListener('abort', stop);
      void send().catch(() => stop());
    },
    cancel: () => stop(),
  });
  return new Response(stream, { headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store' } });
}
