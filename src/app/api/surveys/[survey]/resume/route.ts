import { answering } from '@/app/api/answering';
import { UserError } from '@/core/model/user-error';
import { resumeSurvey } from '@/server/survey/surveys';
import { surveyProgress } from '@/server/survey/survey-progress';

export const dynamic = 'force-dynamic';

/** Resumes a survey that was stopped, from where it was. */
export async function POST(request: Request, context: { params: Promise<{ survey: string }> }): Promise<Response> {
  return answering(request, async () => {
    const id = Number((await context.params).survey);
    if (!Number.isSafeInteger(id) || !(await surveyProgress(id))) throw new UserError('There is no such survey.', 404);
    await resumeSurvey(id);
    return Response.json(await surveyProgress(id));
  });
}
