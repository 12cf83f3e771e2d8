import { answering } from '@/app/api/answering';
import { beginUpload } from '@/server/intake/uploads';
import { UserError } from '@/core/model/user-error';
import { refusedRequest } from '@/server/http/own-request';

export const dynamic = 'force-dynamic';

export async function POST(request: Request): Promise<Response> {
  return answering(request, async () => {
    const refused = refusedRequest(request.method, request.headers, new URL(request.url).pathname);
    if (refused) throw new UserError(refused.message, refused.status);
    return Response.json({ id: await beginUpload() }, { status: 201 });
  });
}
