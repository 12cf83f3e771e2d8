import { answering } from '@/app/api/answering';
import { z } from 'zod';
import { testService } from '@/server/drafting/test-service';

export const dynamic = 'force-dynamic';

/** Asks a service about a picture that Detto draws, and says what it answers or why it does not. */
export const POST = (request: Request, { params }: { params: Promise<{ service: string }> }): Promise<Response> =>
  answering(request, async () => {
    const id = z.coerce
      .number()
      .int()
      .positive()
      .parse((await params).service);
    return Response.json(await testService(id));
  });
