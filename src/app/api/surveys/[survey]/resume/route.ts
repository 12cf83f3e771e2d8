import { answering, HttpError } from '@/server/http/answers';
import { resumeSurvey } from '@/server/survey/surveys';
import { surveyProgress } from '@/server/survey/survey-progress';

export const dynamic = 'force-dynamic';

/** Resumes a survey that was stopped, from where it was. */
export async function POST(_: Request, context: { params: Promise<{ survey: string }> }): Promise<Response> {
  return answering(async () => {
    const id = Number((await context.params).survey);
    if (!Number.isSafeInteger(id) || !(await surveyProgress(id))) throw new HttpError(404, 'There is no such survey.');
    await resumeSurvey(id);
    return Response.json(await surveyProgress(id));
  });
}
