import { Agent, fetch as undiciFetch } from 'undici';
import type { Allowed } from './allowed';
import { guardedConnect } from './guard';

/** Milliseconds before an answer begins, and between its parts; callers end requests earlier by their signal. */
const SILENCE = 600_000;

/**
 * `fetch` that connects only to addresses that Detto may reach ({@link guardedConnect}), and follows no redirect, so that a key
 * goes nowhere else.
 *
 * @param allowed hosts on this machine or a private network that may be reached
 * @param most bytes of an answer; what is longer fails
 */
export function guardedFetch(allowed: readonly Allowed[], most: number): typeof fetch {
  const dispatcher = new Agent({
    connect: guardedConnect(allowed),
    headersTimeout: SILENCE,
    bodyTimeout: SILENCE,
    keepAliveTimeout: 4_000,
  });
  return (async (input: string | URL, init: RequestInit = {}) => {
    const response = await undiciFetch(input, { ...init, redirect: 'error', dispatcher } as never);
    const { status, statusText, headers } = response;
    const body = (response.body as ReadableStream<Uint8Array> | null)?.pipeThrough(upTo(most));
    return new Response(body ?? null, { status, statusText, headers: [...headers] });
  }) as unknown as typeof fetch;
}

/** Passes so many bytes on, and fails with the next. */
function upTo(most: number): TransformStream<Uint8Array, Uint8Array> {
  let size = 0;
  return new TransformStream({
    transform(part, controller) {
      size += part.byteLength;
      if (size > most) controller.error(new Error(`the answer is over ${most} bytes`));
      else controller.enqueue(part);
    },
  });
}
