import { readFile } from 'node:fs/promises';
import { z } from 'zod';
import { answering } from '@/app/api/answering';
import { UserError } from '@/core/model/user-error';
import { collectionById } from '@/server/catalogue/collections';
import { LIST_LIMIT, withBody } from '@/server/http/bodies';
import { previewList, saveList } from '@/server/lists/import-list';
import { sharedReaders } from '@/server/workers/reader-pool';

export const dynamic = 'force-dynamic';

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
  /** Of a CSV, where it is not the one that Detto found. */
  encoding: z.string().max(40).optional(),
  /** `alt`: the new texts stand in the column of the present ones. */
  column: z.enum(['new', 'alt']).default('new'),
});

/** Reads a list back: its new texts are saved, or shown before they are. */
export async function POST(request: Request, context: { params: Promise<{ collection: string }> }): Promise<Response> {
  const work = async () => {
    const c = await collectionById((await context.params).collection);
    if (!c) throw new UserError('There is no such collection.', 404);
    const query = Query.parse(Object.fromEntries(new URL(request.url).searchParams));
    const { act, take, leave, drafts, encoding, column } = query;
    const options = { ...(encoding ? { encoding } : {}), isAltNew: column === 'alt' };
    const list = await withBody(request, LIST_LIMIT, async (file) =>
      sharedReaders().list(await readFile(file), options),
    );
    if (act === undefined) return Response.json(await previewList(c.id, list));
    const state = await saveList(c.id, list.rows, act, take, leave, drafts || null);
    return Response.json(state, { status: state.state === 'running' ? 202 : 200 });
  };
  return answering(request, work, { isSlow: true });
}
