import { answering } from '@/app/api/answering';
import { z } from 'zod';
import { deleteView } from '@/server/catalogue/saved-views';
import { UserError } from '@/core/model/user-error';

export const dynamic = 'force-dynamic';

interface Context {
  params: Promise<{ collection: string; view: string }>;
}

export async function DELETE(request: Request, context: Context): Promise<Response> {
  return answering(request, async () => {
    const { collection, view } = await context.params;
    if (!(await deleteView(collection, z.coerce.number().int().positive().parse(view))))
      throw new UserError('There is no such view.', 404);
    return new Response(null, { status: 204 });
  });
}
