import { answering } from '@/app/api/answering';
import { textBody } from '@/server/http/bodies';
import { UserError } from '@/core/model/user-error';
import { randomUUID } from 'node:crypto';
import { readHouseStyle, writeHouseStyle } from '@/core/house-style/house-style';
import { saveHouseStyle } from '@/server/audit/house-style';
import { collectionById, type Collection } from '@/server/catalogue/collections';

interface Context {
  params: Promise<{ collection: string }>;
}

async function asked({ params }: Context): Promise<Collection> {
  const c = await collectionById((await params).collection);
  if (!c) throw new UserError('There is no such collection.', 404);
  return c;
}

/** The house style as the file that teams share. */
export async function GET(request: Request, context: Context): Promise<Response> {
  return answering(request, async () => {
    const c = await asked(context);
    return new Response(writeHouseStyle(c.style), {
      headers: {
        'content-type': 'application/json',
        'content-disposition': `attachment; filename="${c.id}-house-style.json"`,
      },
    });
  });
}

/** Takes such a file as this collection's house style; what it changes is found again in the background. */
export async function PUT(request: Request, context: Context): Promise<Response> {
  return answering(request, async () => {
    const c = await asked(context);
    await saveHouseStyle(c.id, readHouseStyle(await textBody(request)), randomUUID());
    return new Response(null, { status: 204 });
  });
}
