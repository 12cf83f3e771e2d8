import { answering } from '@/app/api/answering';
import { jsonBody } from '@/server/http/bodies';
import { addCollection } from '@/server/intake/add-collection';
import { shelf } from '@/server/catalogue/collections';

export const dynamic = 'force-dynamic';

export async function GET(request: Request): Promise<Response> {
  return answering(request, async () => Response.json(await shelf()));
}

export async function POST(request: Request): Promise<Response> {
  return answering(request, async () => {
    const { id } = await addCollection(await jsonBody(request));
    return Response.json({ id }, { status: 201 });
  });
}
