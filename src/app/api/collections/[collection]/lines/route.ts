import { answering } from '@/app/api/answering';
import { z } from 'zod';
import { GalleyView } from '@/contract/galley';
import { galleyLines } from '@/server/catalogue/lines';

export const dynamic = 'force-dynamic';

const Window = z.object({
  offset: z.coerce.number().int().min(0).default(0),
  limit: z.coerce.number().int().min(1).max(200).default(100),
});

export async function GET(request: Request, context: { params: Promise<{ collection: string }> }): Promise<Response> {
  return answering(request, async () => {
    const query = Object.fromEntries(new URL(request.url).searchParams);
    const { offset, limit } = Window.parse(query);
    return Response.json(await galleyLines((await context.params).collection, GalleyView.parse(query), offset, limit));
  });
}
