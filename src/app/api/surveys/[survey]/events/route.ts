import { answering } from '@/app/api/answering';
import { UserError } from '@/core/model/user-error';
import { surveyProgress } from '@/server/survey/survey-progress';

export const dynamic = 'force-dynamic';

/** Milliseconds between two looks at the survey. */
const LOOK_MS = 500;

/** Server-sent events: the survey's progress at once, then whenever it changes, until it is over. */
export async function GET(request: Request, context: { params: Promise<{ survey: string }> }): Promise<Response> {
  return answering(request, async () => {
    const id = Number((await context.params).survey);
    const first = Number.isSafeInteger(id) ? await surveyProgress(id) : null;
    if (!first) throw new UserError('There is no such survey.', 404);
    return new Response(progressEvents(id, request.signal), { headers: { 'content-type': 'text/event-stream' } });
  });
}

function progressEvents(id: number, signal: AbortSignal): ReadableStream<Uint8Array> {
  const encoder = new TextEncoder();
  let timer: NodeJS.Timeout | null = null;
  let ended = false;
  const stop = () => {
    ended = true;
    if (timer) clearTimeout(timer);
  };
  return new ReadableStream<Uint8Array>({
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
      signal.addEventListener('abort', stop);
      void look().catch(stop);
    },
    cancel: stop,
  });
}
