import { beginUpload } from '@/server/collections/uploads';
import { answering, HttpError } from '@/server/http/answers';
import { refusedRequest } from '@/server/http/own-request';

export const dynamic = 'force-dynamic';

export async function POST(request: Request): Promise<Response> {
  return answering(async () => {
    const refused = refusedRequest(request.method, request.headers);
    if (refused) throw new HttpError(421, refused);
    return Response.json({ id: await beginUpload() }, { status: 201 });
  });
}
