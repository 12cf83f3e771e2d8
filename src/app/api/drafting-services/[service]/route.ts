import { answering } from '@/app/api/answering';
import { jsonBody } from '@/server/http/bodies';
import { z } from 'zod';
import { ServiceSettings } from '@/contract/drafting';
import { changeService, removeService } from '@/server/drafting/services';

export const dynamic = 'force-dynamic';

interface Context {
  params: Promise<{ service: string }>;
}

const idIn = async ({ params }: Context) =>
  z.coerce
    .number()
    .int()
    .positive()
    .parse((await params).service);

/** Changes a drafting service; without `key`, the stored one stays. */
export const PUT = (request: Request, context: Context): Promise<Response> =>
  answering(request, async () => {
    await changeService(await idIn(context), ServiceSettings.parse(await jsonBody(request)));
    return new Response(null, { status: 204 });
  });

/** Removes a drafting service with its key. */
export const DELETE = (request: Request, context: Context): Promise<Response> =>
  answering(request, async () => {
    await removeService(await idIn(context));
    return new Response(null, { status: 204 });
  });
