import { createHash, createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import { mkdirSync, readFileSync, renameSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { config } from '../config';
import { PEER, tooManyTries, wrongTry } from './tries';

export const LOOPBACK_NAMES: readonly string[] = ['127.0.0.1', 'localhost', '[::1]'];

export const COOKIE = 'detto_session';
/** After which one signs in again, whatever was done meanwhile (OWASP ASVS 5.0, 7.3.2). */
const DAYS = 7;
const SECONDS = DAYS * 86_400;

/** Compares in a time that tells nothing about the two. */
function isSame(a: string, b: string): boolean {
  const hash = (text: string) => createHash('sha256').update(text).digest();
  return timingSafeEqual(hash(a), hash(b));
}

const sign = (token: string, session: string): string =>
  createHmac('sha256', token).update(`detto session ${session}`).digest('base64url');

/** A session as the browser keeps it: its id, when it ends (seconds since 1970), and both signed with the token. */
interface Session {
  id: string;
  ends: number;
}

function sessionIn(headers: Headers, token: string, nowSeconds: number): Session | null {
  const cookie = new RegExp(`(?:^|;\\s*)${COOKIE}=([^;]*)`).exec(headers.get('cookie') ?? '')?.[1];
  const [id, ends, signature] = cookie?.split('.') ?? [];
  if (!id || !ends || !signature || !isSame(signature, sign(token, `${id}.${ends}`))) return null;
  if (Number(ends) <= nowSeconds || signedOut().has(id)) return null;
  return { id, ends: Number(ends) };
}

const nowSeconds = () => Math.floor(Date.now() / 1000);

const shared = globalThis as typeof globalThis & { dettoSignedOut?: { ids: Map<string, number>; changed: number } };
const signedOutFile = () => path.join(config().dataDir, 'signed-out.json');

/** Ids of sessions that were ended before their time, with when they would have ended; other processes end some too. */
function signedOut(): Map<string, number> {
  const changed = statSync(signedOutFile(), { throwIfNoEntry: false })?.mtimeMs ?? 0;
  if (shared.dettoSignedOut?.changed !== changed) {
    let ids = new Map<string, number>();
    try {
      ids = new Map(JSON.parse(readFileSync(signedOutFile(), 'utf8')) as [string, number][]);
    } catch {
      // None yet, or not readable: the next sign-out writes it.
    }
    shared.dettoSignedOut = { ids, changed };
  }
  return shared.dettoSignedOut.ids;
}

/** Who asks, as far as they may come in. */
export type Admission = 'admitted' | 'refused' | 'wait';

/**
 * Whether a request may come in: everybody may where no token is set, which is only possible on loopback. Wrong bearer
 * tokens count as tries to sign in.
 */
export function admission(headers: Headers): Admission {
  const { token } = config();
  if (token === null) return 'admitted';
  if (sessionIn(headers, token, nowSeconds())) return 'admitted';
  const bearer = /^Bearer (.+)$/i.exec(headers.get('authorization') ?? '')?.[1];
  if (bearer === undefined) return 'refused';
  const peer = headers.get(PEER);
  if (tooManyTries(peer, Date.now())) return 'wait';
  if (isSame(bearer.trim(), token)) return 'admitted';
  wrongTry(peer, Date.now());
  return 'refused';
}

/**
 * Signs in with the token.
 *
 * @param now milliseconds
 * @param peer address of whoever asks
 * @returns the cookie to set, `'wrong'`, or `'wait'` after too many tries from that address
 */
export function signIn(
  given: string,
  isHttps: boolean,
  now: number,
  peer: string | null = null,
): { cookie: string } | 'wrong' | 'wait' {
  const { token } = config();
  if (tooManyTries(peer, now)) return 'wait';
  if (token === null || !isSame(given, token)) {
    wrongTry(peer, now);
    return 'wrong';
  }
  const session = `${randomBytes(16).toString('base64url')}.${Math.floor(now / 1000) + SECONDS}`;
  return { cookie: cookieOf(`${session}.${sign(token, session)}`, SECONDS, isHttps) };
}

/** Ends the session of a request for good. @returns the cookie that takes it from the browser */
export function signOut(headers: Headers, isHttps: boolean): string {
  const { token } = config();
  const session = token === null ? null : sessionIn(headers, token, nowSeconds());
  if (session) {
    const known = signedOut();
    for (const [id, ends] of known) if (ends <= nowSeconds()) known.delete(id);
    known.set(session.id, session.ends);
    mkdirSync(config().dataDir, { recursive: true, mode: 0o700 });
    // Whoever reads it finds all of it.
    const part = `${signedOutFile()}.${process.pid}`;
    writeFileSync(part, JSON.stringify([...known]), { mode: 0o600 });
    renameSync(part, signedOutFile());
  }
  return cookieOf('', 0, isHttps);
}

function cookieOf(value: string, maxAge: number, isHttps: boolean): string {
  const parts = [`${COOKIE}=${value}`, 'Path=/', `Max-Age=${maxAge}`, 'HttpOnly', 'SameSite=Strict'];
  return [...parts, ...(isHttps ? ['Secure'] : [])].join('; ');
}
