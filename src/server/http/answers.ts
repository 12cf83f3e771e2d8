import { z } from 'zod';
import { meansDatabaseDown } from '../db/pglite-proxy';
import { meansDiskFull } from '../disk';
import { messageOf } from '../log';

/** An error in words, with the status that fits it. */
export class HttpError extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}

/** What went wrong, as one sentence for people. */
export function inWords(error: unknown): string {
  if (error instanceof z.ZodError) {
    const issue = error.issues[0]!;
    return issue.path.length > 0 ? `${issue.path.join('.')}: ${issue.message}` : issue.message;
  }
  if (meansDiskFull(error)) return 'The disk is full. Free some space; nothing that was saved is lost.';
  return messageOf(error);
}

function statusOf(error: unknown): number {
  if (error instanceof HttpError) return error.status;
  if (meansDiskFull(error)) return 507;
  return meansDatabaseDown(error) ? 503 : 400;
}

/** Runs a handler and answers its errors as `{ "error": "…" }`. */
export async function answering(work: () => Promise<Response>): Promise<Response> {
  try {
    return await work();
  } catch (error) {
    return Response.json({ error: inWords(error) }, { status: statusOf(error) });
  }
}
