import { ServiceSettings } from '@/contract/drafting';
import { addService, listServices } from '@/server/drafting/services';
import { answering } from '@/server/http/answers';

export const dynamic = 'force-dynamic';

/** The drafting services that are set up, without their keys. */
export const GET = (): Promise<Response> => answering(async () => Response.json(await listServices()));

/** Sets up a drafting service. */
export const POST = (request: Request): Promise<Response> =>
  answering(async () => {
    const id = await addService(ServiceSettings.parse(await request.json()));
    return Response.json({ id }, { status: 201 });
  });
