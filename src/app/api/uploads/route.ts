import { beginUpload } from '@/server/intake/uploads';
import { answering, HttpError } from '@/server/http/answers';
import { refusedRequest } from '@/server/http/own-request';

export const dynamic = 'force-dynamic';

export async function POST(request: Request): Promise<Response> {
  return answering(async () => {
    const refused = refusedRequest(request.method, request.headers, new URL(request.url).pathname);
    if (refused) throw new HttpError(refused.status, refused.message);
    return Response.json({ id: await beginUpload() }, { status: 201 });
  });
}
