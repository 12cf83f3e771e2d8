import { collectionById } from '@/server/catalogue/collections';
import { answering, HttpError } from '@/server/http/answers';
import { startSurvey } from '@/server/survey/surveys';
import { surveyProgress } from '@/server/survey/survey-progress';

export const dynamic = 'force-dynamic';

/** Surveys a collection again; one that runs already goes on instead. */
export async function POST(_: Request, context: { params: Promise<{ collection: string }> }): Promise<Response> {
  return answering(async () => {
    const c = await collectionById((await context.params).collection);
    if (!c) throw new HttpError(404, 'There is no such collection.');
    return Response.json(await surveyProgress(await startSurvey(c.id)), { status: 201 });
  });
}
