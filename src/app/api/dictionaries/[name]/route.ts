import { answering } from '@/app/api/answering';
import { UserError } from '@/core/model/user-error';
import { dictionaryBytes } from '@/server/language/dictionaries';
import { isDictionary } from '@/server/language/dictionary-files';

/** A dictionary for the worker that audits while one writes. */
export async function GET(request: Request, { params }: { params: Promise<{ name: string }> }): Promise<Response> {
  return answering(request, async () => {
    const { name } = await params;
    if (!isDictionary(name)) throw new UserError(`There is no dictionary ${name}.`, 404);
    return new Response(dictionaryBytes(name), {
      headers: { 'content-type': 'application/octet-stream', 'cache-control': 'private, max-age=86400' },
    });
  });
}
