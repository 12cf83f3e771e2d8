import { answering, HttpError } from '@/server/http/answers';
import { stopSurvey } from '@/server/survey/surveys';
import { surveyProgress } from '@/server/survey/survey-progress';

export const dynamic = 'force-dynamic';

/** Stops a survey at the next page; what was read stays. */
export async function POST(_: Request, context: { params: Promise<{ survey: string }> }): Promise<Response> {
  return answering(async () => {
    const id = Number((await context.params).survey);
    if (!Number.isSafeInteger(id) || !(await surveyProgress(id))) throw new HttpError(404, 'There is no such survey.');
    await stopSurvey(id);
    return Response.json(await surveyProgress(id));
  });
}
