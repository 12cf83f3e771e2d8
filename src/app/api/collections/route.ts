import { addCollection } from '@/server/intake/add-collection';
import { shelf } from '@/server/catalogue/collections';
import { answering } from '@/server/http/answers';

export const dynamic = 'force-dynamic';

export async function GET(): Promise<Response> {
  return answering(async () => Response.json(await shelf()));
}

export async function POST(request: Request): Promise<Response> {
  return answering(async () => {
    const { id } = await addCollection(await request.json());
    return Response.json({ id }, { status: 201 });
  });
}
