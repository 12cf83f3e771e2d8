import { answering, HttpError } from '@/server/http/answers';
import { surveyProgress } from '@/server/survey/survey-progress';

export const dynamic = 'force-dynamic';

/** How far a survey is. */
export async function GET(_: Request, context: { params: Promise<{ survey: string }> }): Promise<Response> {
  return answering(async () => {
    const id = Number((await context.params).survey);
    const progress = Number.isSafeInteger(id) ? await surveyProgress(id) : null;
    if (!progress) throw new HttpError(404, 'There is no such survey.');
    return Response.json(progress);
  });
}
