import { answering } from '@/app/api/answering';
import { UserError } from '@/core/model/user-error';
import { wholeCollectionOf } from '@/server/catalogue/collection-of';
import { isRenameList, renameList } from '@/server/delivery/renames';
import { attachment } from '@/server/http/downloads';

export const dynamic = 'force-dynamic';

interface Context {
  params: Promise<{ collection: string; form: string }>;
}

/** The files to rename: `renames.csv`, and the redirects for two servers. */
export const POST = (request: Request, context: Context): Promise<Response> =>
  answering(request, async () => {
    const c = await wholeCollectionOf(context);
    const { form } = await context.params;
    if (!isRenameList(form)) throw new UserError('There is nothing here.', 404);
    const { name, type, bytes } = await renameList(c, form);
    return new Response(new Uint8Array(bytes), {
      headers: { 'content-type': type, 'content-disposition': attachment(`${c.id}-${name}`) },
    });
  });
