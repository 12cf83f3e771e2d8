import { answering } from '@/app/api/answering';
import { deliveryProgress } from '@/server/delivery/delivery-progress';

export const dynamic = 'force-dynamic';

/** How far the delivery is that is being prepared. */
export async function GET(request: Request, context: { params: Promise<{ collection: string }> }): Promise<Response> {
  return answering(request, async () =>
    Response.json({ progress: deliveryProgress((await context.params).collection) }),
  );
}
