import { answering } from '@/app/api/answering';
import { collectionById } from '@/server/catalogue/collections';
import { deliver } from '@/server/delivery/delivery';
import { DOWNLOADS } from '@/server/delivery/downloads';
import { isRenameList, renameList } from '@/server/delivery/renames';
import { UserError } from '@/core/model/user-error';

export const dynamic = 'force-dynamic';

interface Context {
  params: Promise<{ collection: string; form: string }>;
}

/** A name of a file, whatever its letters (RFC 6266). */
const attachment = (name: string) =>
  `attachment; filename="${name.replace(/[^\x20-\x7e]|["\\]/g, '_')}"; filename*=UTF-8''${encodeURIComponent(name)}`;

/**
 * The changed pages: `pages.zip`, `changes.diff` as one unified diff, or `document` where one document changes. Both fetch the pages again, so they are asked
 * for. Or the files to rename: `renames.csv`, and the redirects for two servers.
 */
export async function POST(request: Request, context: Context): Promise<Response> {
  return answering(
    request,
    async () => {
      const { collection, form } = await context.params;
      const c = await collectionById(collection);
      const target = Object.hasOwn(DOWNLOADS, form) ? DOWNLOADS[form] : undefined;
      if (!c || !(target || isRenameList(form))) throw new UserError('There is nothing here.', 404);
      const file = target ? (await deliver(c, target, request.signal))[0]!.file! : await renameList(c, form);
      const { name, type, bytes } = file;
      return new Response(new Uint8Array(bytes), {
        headers: {
          'content-type': type,
          'content-disposition': attachment(target === DOWNLOADS['document'] ? name : `${c.id}-${name}`),
          'cache-control': 'no-store',
        },
      });
    },
    { isSlow: true },
  );
}
