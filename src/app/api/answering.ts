import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import type { Message } from '@/core/model/message';
import { UserError } from '@/core/model/user-error';
import { isUnstorable, meansDatabaseDown } from '@/server/db/database-errors';
import { config } from '@/server/config';
import { meansDiskFull, meansReadOnly } from '@/server/disk';
import { refusedRequest } from '@/server/http/own-request';
import { log } from '@/server/log';
import { metrics } from '@/server/metrics';
import { strings } from '@/ui/strings';

/** What went wrong, for the person who asked: in words, with the status that fits. */
export interface Fault {
  status: number;
  error: string;
}

/** Milliseconds after which a request is answered in words, whatever it waits for. */
const PATIENCE = 10_000;

/**
 * An error as a person is shown it. What is nobody's doing but Detto's own is logged with its stack under a number, which
 * is all that is said of it.
 */
export function faultOf(error: unknown): Fault {
  const said = (status: number, reason: Message): Fault => ({ status, error: strings.message(reason) });
  if (error instanceof z.ZodError) {
    const issue = error.issues[0]!;
    return { status: 400, error: issue.path.length > 0 ? `${issue.path.join('.')}: ${issue.message}` : issue.message };
  }
  if (meansDiskFull(error)) return said(507, { id: 'error.disk-full' });
  if (meansReadOnly(error, config().dataDir)) return said(503, { id: 'error.read-only' });
  if (meansDatabaseDown(error)) return said(503, { id: 'error.database-down' });
  if (isUnstorable(error)) return said(400, { id: 'error.unstorable' });
  if (error instanceof UserError) return said(error.status, error.reason);
  const reference = randomUUID().slice(0, 8);
  log.error({ ...withoutContent(error), reference }, 'a request failed');
  return said(500, { id: 'error.unexpected', values: { reference } });
}

/** An error for the log: what caused it first, because the database's library says with its own what was to be stored. */
function withoutContent(error: unknown): { err: unknown; at?: string } {
  let err = error;
  while (err instanceof Error && err.cause instanceof Error) err = err.cause;
  if (err === error || !(error instanceof Error)) return { err };
  return {
    err,
    at:
      error.stack
        ?.split('\n')
        .filter((line) => /^\s+at /.test(line))
        .join('\n') ?? '',
  };
}

/**
 * Answers a request to the HTTP interface: refuses what is not Detto's own, or was not signed in for; answers errors as
 * `{ "error": "…" }`; keeps data out of caches (OWASP ASVS 5.0, 14.3.2); and never lets it wait without an answer.
 *
 * @param isSlow it takes longer by its nature: an upload, or a download
 */
export async function answering(
  request: Request,
  work: () => Promise<Response>,
  { isSlow = false }: { isSlow?: boolean } = {},
): Promise<Response> {
  const ended = metrics().requests.startTimer({ method: request.method });
  const response = await answered(request, work, isSlow);
  ended({ status: String(response.status) });
  if (!response.headers.has('cache-control')) response.headers.set('cache-control', 'no-store');
  response.headers.set('x-content-type-options', 'nosniff');
  return response;
}

async function answered(request: Request, work: () => Promise<Response>, isSlow: boolean): Promise<Response> {
  const refused = refusedRequest(request.method, request.headers, new URL(request.url).pathname);
  if (refused) return Response.json({ error: refused.message }, { status: refused.status });
  let timer: NodeJS.Timeout | undefined;
  try {
    const late = new Promise<Response>((_, reject) => {
      if (!isSlow) timer = setTimeout(() => reject(new UserError({ id: 'error.no-answer' }, 503)), PATIENCE);
    });
    return await Promise.race([work(), late]);
  } catch (error) {
    const { status, error: words } = faultOf(error);
    return Response.json({ error: words }, { status });
  } finally {
    clearTimeout(timer);
  }
}
