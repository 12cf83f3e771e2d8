import { answering } from '@/app/api/answering';
import { UserError } from '@/core/model/user-error';
import { surveyProgress } from '@/server/survey/survey-progress';

export const dynamic = 'force-dynamic';

/** How far a survey is. */
export async function GET(request: Request, context: { params: Promise<{ survey: string }> }): Promise<Response> {
  return answering(request, async () => {
    const id = Number((await context.params).survey);
    const progress = Number.isSafeInteger(id) ? await surveyProgress(id) : null;
    if (!progress) throw new UserError('There is no such survey.', 404);
    return Response.json(progress);
  });
}
