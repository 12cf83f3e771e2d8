import { dictionaryBytes, isDictionary } from '@/server/language/dictionaries';

/** A dictionary for the worker that audits while one writes. */
export async function GET(_: Request, { params }: { params: Promise<{ name: string }> }): Promise<Response> {
  const { name } = await params;
  if (!isDictionary(name)) return Response.json({ error: `There is no dictionary ${name}.` }, { status: 404 });
  return new Response(dictionaryBytes(name), {
    headers: { 'content-type': 'application/octet-stream', 'cache-control': 'private, max-age=86400' },
  });
}
