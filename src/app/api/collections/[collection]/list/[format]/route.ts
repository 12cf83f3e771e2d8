import { answering } from '@/app/api/answering';
import { z } from 'zod';
import { GalleyView } from '@/contract/galley';
import { collectionById } from '@/server/catalogue/collections';
import { UserError } from '@/core/model/user-error';
import { listRows } from '@/server/lists/list-rows';
import { ListFormat, MEDIA_TYPES, writeList } from '@/server/lists/write-list';
import { listWords } from '@/ui/strings/lists';

export const dynamic = 'force-dynamic';

interface Context {
  params: Promise<{ collection: string; format: string }>;
}

/** A view of the Galley as a table, a row for each picture or for each appearance. */
export async function GET(request: Request, context: Context): Promise<Response> {
  return answering(request, async () => {
    const { collection, format: asked } = await context.params;
    const c = await collectionById(collection);
    if (!c) throw new UserError('There is no such collection.', 404);
    const query = Object.fromEntries(new URL(request.url).searchParams);
    const format = ListFormat.parse(asked);
    const by = z.enum(['picture', 'appearance']).default('picture').parse(query['by']);
    const file = await writeList(
      listRows(c.id, GalleyView.parse(query), by, listWords, format === 'xlsx'),
      format,
      listWords,
    );
    return new Response(new Uint8Array(file), {
      headers: {
        'content-type': MEDIA_TYPES[format],
        'content-disposition': `attachment; filename="${c.id}-${by}s.${format}"`,
      },
    });
  });
}
