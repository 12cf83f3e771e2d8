import { z } from 'zod';
import { collectionById } from '@/server/catalogue/collections';
import { answering, HttpError } from '@/server/http/answers';
import { previewList, saveList } from '@/server/lists/import-list';
import { readList } from '@/server/lists/read-list';

export const dynamic = 'force-dynamic';

/** Bytes of a list. */
const MOST_BYTES = 50 * 1024 * 1024;
const Rows = z
  .string()
  .default('')
  .transform((text) => new Set(text.split(',').filter(Boolean).map(Number)));
const Query = z.object({
  /** Under which it can be undone; without it, nothing is saved and the answer says what would be. */
  act: z.string().min(8).max(64).optional(),
  take: Rows,
  leave: Rows,
  /** The texts are left as drafts to be read; the name of the list says where they come from. */
  drafts: z.string().trim().max(80).optional(),
});

/** Reads a list back: its new texts are saved, or shown before they are. */
export async function POST(request: Request, context: { params: Promise<{ collection: string }> }): Promise<Response> {
  return answering(async () => {
    const c = await collectionById((await context.params).collection);
    if (!c) throw new HttpError(404, 'There is no such collection.');
    const { act, take, leave, drafts } = Query.parse(Object.fromEntries(new URL(request.url).searchParams));
    if (Number(request.headers.get('content-length') ?? 0) > MOST_BYTES)
      throw new HttpError(413, 'The list is over the limit of 50 MB.');
    const bytes = Buffer.from(await request.arrayBuffer());
    if (bytes.length > MOST_BYTES) throw new HttpError(413, 'The list is over the limit of 50 MB.');
    const rows = await readList(bytes);
    if (act === undefined) return Response.json(await previewList(c.id, rows));
    const state = await saveList(c.id, rows, act, take, leave, drafts || null);
    return Response.json(state, { status: state.state === 'running' ? 202 : 200 });
  });
}
