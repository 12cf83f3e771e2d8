import { answering } from '@/app/api/answering';
import { UserError } from '@/core/model/user-error';
import { wholeCollectionOf } from '@/server/catalogue/collection-of';
import type { Collection } from '@/server/catalogue/collections';
import { deliveryById, resumeDelivery, stopDelivery } from '@/server/delivery/deliveries';
import { undoDelivery, verifyDelivery } from '@/server/delivery/undo-delivery';

export const dynamic = 'force-dynamic';

interface Context {
  params: Promise<{ collection: string; delivery: string; action: string }>;
}

/** What can be done with a delivery; those that give nothing back are answered with the delivery as it is then. */
const ACTIONS: Readonly<Record<string, (c: Collection, id: number) => Promise<unknown>>> = {
  stop: (c, id) => stopDelivery(c.id, id),
  resume: (c, id) => resumeDelivery(c.id, id),
  undo: undoDelivery,
  verify: (c, id) => verifyDelivery(c.id, id),
};

/** Stops a delivery, resumes it, takes it back, or looks whether what it has written is still there. */
export const POST = (request: Request, context: Context): Promise<Response> =>
  answering(
    request,
    async () => {
      const c = await wholeCollectionOf(context);
      const { delivery, action } = await context.params;
      const act = Object.hasOwn(ACTIONS, action) ? ACTIONS[action]! : null;
      if (!act) throw new UserError('There is nothing here.', 404);
      const id = Number(delivery);
      return Response.json((await act(c, id)) ?? (await deliveryById(c.id, id)));
    },
    { isSlow: true },
  );
