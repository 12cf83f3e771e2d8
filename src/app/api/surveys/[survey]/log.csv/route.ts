import { answering } from '@/app/api/answering';
import { UserError } from '@/core/model/user-error';
import { csvLine } from '@/core/lists/list-table';
import { logLines, SurveyLogView } from '@/server/survey/survey-log';
import { surveyProgress } from '@/server/survey/survey-progress';
import { strings } from '@/ui/strings';

export const dynamic = 'force-dynamic';

const PORTION = 2000;
const COLUMNS = ['address', 'kind', 'state', 'reason', 'cause', 'status', 'foundOn'] as const;

/** The survey log as a table, streamed in portions. */
export async function GET(request: Request, context: { params: Promise<{ survey: string }> }): Promise<Response> {
  return answering(request, async () => {
    const id = Number((await context.params).survey);
    if (!Number.isSafeInteger(id) || !(await surveyProgress(id))) throw new UserError('There is no such survey.', 404);
    const { what } = SurveyLogView.parse(Object.fromEntries(new URL(request.url).searchParams));
    const encoder = new TextEncoder();
    let from = 0;
    const stream = new ReadableStream<Uint8Array>({
      start: (controller) => controller.enqueue(encoder.encode(csvLine(COLUMNS))),
      async pull(controller) {
        const lines = await logLines(id, what, from, PORTION);
        from += lines.length;
        for (const line of lines) {
          const row = { ...line, reason: line.reason && strings.message(line.reason) };
          controller.enqueue(encoder.encode(csvLine(COLUMNS.map((c) => row[c]))));
        }
        if (lines.length < PORTION) controller.close();
      },
    });
    return new Response(stream, {
      headers: {
        'content-type': 'text/csv; charset=utf-8',
        'content-disposition': `attachment; filename="survey-log-${id}.csv"`,
        'cache-control': 'no-store',
      },
    });
  });
}
