import { answering } from '@/app/api/answering';
import type { ChangeEvent } from '@/contract/changes';
import { collectionById } from '@/server/catalogue/collections';
import { onChange } from '@/server/changes';
import { UserError } from '@/core/model/user-error';

export const dynamic = 'force-dynamic';

const stateOf = ({ revision, changes }: { revision: number; changes: number }): number => revision + changes;

/** Milliseconds between two looks at what other processes have changed on a shared database. */
const LOOK_MS = 2_000;

/** Server-sent events: which pictures changed, at once; every window of a collection listens. */
export async function GET(request: Request, context: { params: Promise<{ collection: string }> }): Promise<Response> {
  return answering(request, async () => {
    const { collection: id } = await context.params;
    const c = await collectionById(id);
    if (!c) throw new UserError('There is no such collection.', 404);
    const encoder = new TextEncoder();
    let stop = () => {};
    const stream = new ReadableStream<Uint8Array>({
      start(controller) {
        let known = stateOf(c);
        const send = (event: ChangeEvent) => controller.enqueue(encoder.encode(`data: ${JSON.stringify(event)}\n\n`));
        const look = async (pictures: readonly number[] | null, always: boolean) => {
          const now = await collectionById(id);
          const state = now ? stateOf(now) : known;
          if (always || state !== known) send({ pictures, state });
          known = state;
        };
        const end = onChange(id, ({ pictures }) => void look(pictures, true).catch(() => stop()));
        const timer = setInterval(() => void look(null, false).catch(() => stop()), LOOK_MS);
        stop = () => {
          end();
          clearInterval(timer);
        };
        // Says at once that it listens, so that a window which was away asks for what it missed.
        send({ pictures: [], state: known });
        request.signal.addEventListener('abort', () => stop());
      },
      cancel: () => stop(),
    });
    return new Response(stream, {
      headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store' },
    });
  });
}
