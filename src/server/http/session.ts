import { createHash, createHmac, timingSafeEqual } from 'node:crypto';
import { config } from '../config';

export const LOOPBACK_NAMES: readonly string[] = ['127.0.0.1', 'localhost', '[::1]'];

export const COOKIE = 'detto_session';
const DAYS = 30;
/** Tries to sign in within a minute. */
const MOST_TRIES = 10;
const MINUTE = 60_000;

/** What the browser keeps in place of the token. */
const sessionFor = (token: string): string => createHmac('sha256', token).update('detto session').digest('base64url');

/** Compares in a time that tells nothing about the two. */
function isSame(a: string, b: string): boolean {
  const hash = (text: string) => createHash('sha256').update(text).digest();
  return timingSafeEqual(hash(a), hash(b));
}

/** Whether a request may come in: everybody may where no token is set, which is only possible on loopback. */
export function isSignedIn(headers: Headers): boolean {
  const { token } = config();
  if (token === null) return true;
  const bearer = /^Bearer (.+)$/i.exec(headers.get('authorization') ?? '')?.[1];
  if (bearer !== undefined) return isSame(bearer.trim(), token);
  const cookie = new RegExp(`(?:^|;\\s*)${COOKIE}=([^;]*)`).exec(headers.get('cookie') ?? '')?.[1];
  return cookie !== undefined && isSame(cookie, sessionFor(token));
}

const shared = globalThis as typeof globalThis & { dettoTries?: number[] };

/**
 * Signs in with the token.
 *
 * @param now milliseconds
 * @returns the cookie to set, `'wrong'`, or `'wait'` after too many tries
 */
export function signIn(given: string, isHttps: boolean, now: number): { cookie: string } | 'wrong' | 'wait' {
  const { token } = config();
  const tries = (shared.dettoTries ??= []);
  while (tries.length > 0 && tries[0]! <= now - MINUTE) tries.shift();
  if (tries.length >= MOST_TRIES) return 'wait';
  if (token === null || !isSame(given, token)) {
    tries.push(now);
    return 'wrong';
  }
  const parts = [`${COOKIE}=${sessionFor(token)}`, 'Path=/', `Max-Age=${DAYS * 86_400}`, 'HttpOnly', 'SameSite=Strict'];
  return { cookie: [...parts, ...(isHttps ? ['Secure'] : [])].join('; ') };
}
