import { z } from 'zod';

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
  return error instanceof Error ? error.message : String(error);
}

/** Runs a handler and answers its errors as `{ "error": "…" }`. */
export async function answering(work: () => Promise<Response>): Promise<Response> {
  try {
    return await work();
  } catch (error) {
    const status = error instanceof HttpError ? error.status : 400;
    return Response.json({ error: inWords(error) }, { status });
  }
}
