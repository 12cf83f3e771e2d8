import { answering } from '@/app/api/answering';
import { jsonBody } from '@/server/http/bodies';
import { z } from 'zod';
import { collectionById } from '@/server/catalogue/collections';
import { saveView, savedViews } from '@/server/catalogue/saved-views';
import { UserError } from '@/core/model/user-error';

export const dynamic = 'force-dynamic';

interface Context {
  params: Promise<{ collection: string }>;
}

const Wanted = z.object({ name: z.string().trim().min(1).max(80), query: z.string().max(2000) });

async function asked({ params }: Context): Promise<string> {
  const c = await collectionById((await params).collection);
  if (!c) throw new UserError('There is no such collection.', 404);
  return c.id;
}

/** The views of the Galley that were saved under a name. */
export async function GET(request: Request, context: Context): Promise<Response> {
  return answering(request, async () => Response.json(await savedViews(await asked(context))));
}

/** Saves a view; one that has the name already is replaced. */
export async function POST(request: Request, context: Context): Promise<Response> {
  return answering(request, async () => {
    const { name, query } = Wanted.parse(await jsonBody(request));
    return Response.json(await saveView(await asked(context), name, query), { status: 201 });
  });
}
