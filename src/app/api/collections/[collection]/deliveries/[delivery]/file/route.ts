import { answering } from '@/app/api/answering';
import { wholeCollectionOf } from '@/server/catalogue/collection-of';
import { fileOfDelivery } from '@/server/delivery/deliveries';
import { fileResponse } from '@/server/http/downloads';

export const dynamic = 'force-dynamic';

interface Context {
  params: Promise<{ collection: string; delivery: string }>;
}

/** The file that a delivery has made, or parts of it (RFC 9110, 14). */
export const GET = (request: Request, context: Context): Promise<Response> =>
  answering(
    request,
    async () => {
      const c = await wholeCollectionOf(context);
      const file = await fileOfDelivery(c.id, Number((await context.params).delivery));
      const isOwnName = !['pages.zip', 'changes.diff'].includes(file.name);
      return fileResponse(request, { ...file, name: isOwnName ? file.name : `${c.id}-${file.name}` });
    },
    { isSlow: true },
  );
