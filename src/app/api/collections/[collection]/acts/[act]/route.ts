import { answering } from '@/app/api/answering';
import { jsonBody } from '@/server/http/bodies';
import { z } from 'zod';
import { redoAct, undoAct } from '@/server/wordings/acts';

export const dynamic = 'force-dynamic';

interface Context {
  params: Promise<{ collection: string; act: string }>;
}

const Wanted = z.object({ turn: z.enum(['undo', 'redo']) });

/** Undoes an act, or does it again. */
export async function POST(request: Request, context: Context): Promise<Response> {
  return answering(request, async () => {
    const { collection, act } = await context.params;
    const { turn } = Wanted.parse(await jsonBody(request));
    return Response.json({ places: await (turn === 'undo' ? undoAct : redoAct)(collection, act) });
  });
}
