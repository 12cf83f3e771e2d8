import { answering } from '@/app/api/answering';
import { jsonBody } from '@/server/http/bodies';
import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { UserError } from '@/core/model/user-error';
import { chooseText } from '@/server/wordings/wordings';

export const dynamic = 'force-dynamic';

const Choice = z.object({
  choice: z.union([z.enum(['ours', 'theirs']), z.object({ text: z.string().max(20_000) })]),
  act: z.string().min(8).max(64).optional(),
});

interface Context {
  params: Promise<{ collection: string; conflict: string }>;
}

/** Chooses one of the two texts, or a third one made of both. */
export async function POST(request: Request, context: Context): Promise<Response> {
  return answering(request, async () => {
    const { collection, conflict } = await context.params;
    const { choice, act = randomUUID() } = Choice.parse(await jsonBody(request));
    const id = Number(conflict);
    if (!Number.isSafeInteger(id) || !(await chooseText(collection, id, choice, act)))
      throw new UserError('There is no such conflict, or somebody has chosen already.', 404);
    return Response.json({ act });
  });
}
