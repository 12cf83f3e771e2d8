import { z } from 'zod';
import { deleteView } from '@/server/catalogue/saved-views';
import { answering, HttpError } from '@/server/http/answers';

export const dynamic = 'force-dynamic';

interface Context {
  params: Promise<{ collection: string; view: string }>;
}

export async function DELETE(_: Request, context: Context): Promise<Response> {
  return answering(async () => {
    const { collection, view } = await context.params;
    if (!(await deleteView(collection, z.coerce.number().int().positive().parse(view))))
      throw new HttpError(404, 'There is no such view.');
    return new Response(null, { status: 204 });
  });
}
