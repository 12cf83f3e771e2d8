import { answering } from '@/app/api/answering';
import { z } from 'zod';
import { FACETS, GalleyView } from '@/contract/galley';
import { facetChoices } from '@/server/catalogue/views';

export const dynamic = 'force-dynamic';

interface Context {
  params: Promise<{ collection: string; facet: string }>;
}

/** The choices of one facet beside what the query asks for; `find` narrows the pages. */
export async function GET(request: Request, context: Context): Promise<Response> {
  return answering(request, async () => {
    const { collection, facet } = await context.params;
    const query = Object.fromEntries(new URL(request.url).searchParams);
    const find = z
      .string()
      .max(200)
      .parse(query['find'] ?? '');
    return Response.json(await facetChoices(collection, GalleyView.parse(query), z.enum(FACETS).parse(facet), find));
  });
}
