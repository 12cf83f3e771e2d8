import { answering } from '@/app/api/answering';
import { collectionById } from '@/server/catalogue/collections';
import { UserError } from '@/core/model/user-error';
import { startSurvey } from '@/server/survey/surveys';
import { surveyProgress } from '@/server/survey/survey-progress';

export const dynamic = 'force-dynamic';

/** Surveys a collection again; one that runs already goes on instead. */
export async function POST(request: Request, context: { params: Promise<{ collection: string }> }): Promise<Response> {
  return answering(request, async () => {
    const c = await collectionById((await context.params).collection);
    if (!c) throw new UserError('There is no such collection.', 404);
    return Response.json(await surveyProgress(await startSurvey(c.id)), { status: 201 });
  });
}
