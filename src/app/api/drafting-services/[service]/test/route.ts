import { z } from 'zod';
import { testService } from '@/server/drafting/test-service';
import { answering } from '@/server/http/answers';

export const dynamic = 'force-dynamic';

/** Asks a service about a picture that Detto draws, and says what it answers or why it does not. */
export const POST = (_: Request, { params }: { params: Promise<{ service: string }> }): Promise<Response> =>
  answering(async () => {
    const id = z.coerce
      .number()
      .int()
      .positive()
      .parse((await params).service);
    return Response.json(await testService(id));
  });
