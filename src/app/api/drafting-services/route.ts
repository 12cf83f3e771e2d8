import { answering } from '@/app/api/answering';
import { jsonBody } from '@/server/http/bodies';
import { ServiceSettings } from '@/contract/drafting';
import { addService, listServices } from '@/server/drafting/services';

export const dynamic = 'force-dynamic';

/** The drafting services that are set up, without their keys. */
export const GET = (request: Request): Promise<Response> =>
  answering(request, async () => Response.json(await listServices()));

/** Sets up a drafting service. */
export const POST = (request: Request): Promise<Response> =>
  answering(request, async () => {
    const id = await addService(ServiceSettings.parse(await jsonBody(request)));
    return Response.json({ id }, { status: 201 });
  });
