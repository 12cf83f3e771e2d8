import { answering } from '@/app/api/answering';
import { z } from 'zod';
import { collectionById } from '@/server/catalogue/collections';
import { deskPicture } from '@/server/desk/desk';
import { UserError } from '@/core/model/user-error';

export const dynamic = 'force-dynamic';

interface Context {
  params: Promise<{ collection: string; picture: string }>;
}

const Id = z.coerce.number().int().positive();

/** Everything that is known of a picture; `place` is the appearance that is shown first. */
export async function GET(request: Request, context: Context): Promise<Response> {
  return answering(request, async () => {
    const { collection, picture } = await context.params;
    const place = new URL(request.url).searchParams.get('place');
    const c = await collectionById(collection);
    const data = c && (await deskPicture(c, Id.parse(picture), place === null ? null : Id.parse(place)));
    if (!data) throw new UserError('There is no such picture.', 404);
    return Response.json(data);
  });
}
