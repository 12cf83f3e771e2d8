import { surveyProgress } from '@/server/survey/survey-progress';

export const dynamic = 'force-dynamic';

/** Milliseconds between two looks at the survey. */
const LOOK_MS = 500;

/** Server-sent events: the survey's progress at once, then whenever it changes, until it is over. */
export async function GET(request: Request, context: { params: Promise<{ survey: string }> }): Promise<Response> {
  const id = Number((await context.params).survey);
  const first = Number.isInteger(id) ? await surveyProgress(id) : null;
  if (!first) return Response.json({ error: 'There is no such survey.' }, { status: 404 });
  const encoder = new TextEncoder();
  let timer: NodeJS.Timeout | null = null;
  let ended = false;
  const stop = () => {
    ended = true;
    if (timer) clearTimeout(timer);
  };
  const stream = new ReadableStream<Uint8Array>({
    start(controller) {
      let sent = '';
      const look = async () => {
        const progress = await surveyProgress(id);
        if (ended || !progress) return;
        const text = JSON.stringify(progress);
        if (text !== sent) controller.enqueue(encoder.encode(`data: ${text}\n\n`));
        sent = text;
        if (progress.state !== 'running') {
          stop();
          controller.close();
        } else timer = setTimeout(() => void look().catch(stop), LOOK_MS);
      };
      request.signal.addEventListener('abort', stop);
      void look().catch(stop);
    },
    cancel: stop,
  });
  return new Response(stream, { headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store' } });
}
