import { answering } from '@/app/api/answering';
import { jsonBody } from '@/server/http/bodies';
import { z } from 'zod';
import { finishUpload, uploadFile } from '@/server/intake/uploads';
import { UserError } from '@/core/model/user-error';
import { refusedRequest } from '@/server/http/own-request';
import { startSurvey } from '@/server/survey/surveys';

export const dynamic = 'force-dynamic';

interface Context {
  params: Promise<{ upload: string }>;
}

const Name = z.object({ name: z.string().trim().min(1).max(120) });
const FilePath = z.string().min(1).max(1000);

/** One file, at the path that the query names. */
export async function PUT(request: Request, context: Context): Promise<Response> {
  return answering(request, async () => {
    const refused = refusedRequest(request.method, request.headers, new URL(request.url).pathname);
    if (refused) throw new UserError(refused.message, refused.status);
    const file = FilePath.parse(new URL(request.url).searchParams.get('path'));
    await uploadFile((await context.params).upload, file, request.body as never);
    return new Response(null, { status: 204 });
  });
}

/** All files are there: they become a collection. */
export async function POST(request: Request, context: Context): Promise<Response> {
  return answering(request, async () => {
    const refused = refusedRequest(request.method, request.headers, new URL(request.url).pathname);
    if (refused) throw new UserError(refused.message, refused.status);
    const { name } = Name.parse(await jsonBody(request));
    const { id } = await finishUpload((await context.params).upload, name);
    await startSurvey(id);
    return Response.json({ id }, { status: 201 });
  });
}
