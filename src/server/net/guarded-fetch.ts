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
 */
export function guardedFetch(allowed: readonly Allowed[]): typeof fetch {
  const dispatcher = new Agent({
    connect: guardedConnect(allowed),
    headersTimeout: SILENCE,
    bodyTimeout: SILENCE,
    keepAliveTimeout: 4_000,
  });
  return (async (input: string | URL, init: RequestInit = {}) =>
    undiciFetch(input, { ...init, redirect: 'error', dispatcher } as never)) as unknown as typeof fetch;
}
