import { answering } from '@/app/api/answering';
import { z } from 'zod';
import { uploadZip } from '@/server/intake/uploads';
import { UserError } from '@/core/model/user-error';
import { refusedRequest } from '@/server/http/own-request';
import { startSurvey } from '@/server/survey/surveys';

export const dynamic = 'force-dynamic';

const Name = z.string().trim().min(1).max(120);

export async function PUT(request: Request): Promise<Response> {
  return answering(request, async () => {
    const refused = refusedRequest(request.method, request.headers, new URL(request.url).pathname);
    if (refused) throw new UserError(refused.message, refused.status);
    const name = Name.parse(new URL(request.url).searchParams.get('name'));
    const { id } = await uploadZip(name, request.body as never);
    await startSurvey(id);
    return Response.json({ id }, { status: 201 });
  });
}
