import { config } from '../config';
import { admission, LOOPBACK_NAMES } from './session';

export interface Refusal {
  status: 401 | 421 | 429;
  message: string;
}

const name = (host: string) => host.replace(/:\d+$/, '').toLowerCase();

/** Names under which Detto answers; any other is a page elsewhere that points its name at this machine. */
function isOwnHost(host: string | null): boolean {
  const asked = name(host ?? '');
  return asked !== '' && (LOOPBACK_NAMES.includes(asked) || config().hostNames.includes(asked));
}

/** Who asks, as a browser says it (Fetch Metadata Request Headers); a program says nothing. */
const isElsewhere = (headers: Headers): boolean =>
  ['cross-site', 'same-site'].includes(headers.get('sec-fetch-site') ?? '');

/** Whether an origin is Detto's own: its scheme, its name and its port. */
function isOwnOrigin(origin: string, headers: Headers): boolean {
  if (!URL.canParse(origin)) return false;
  const { protocol, host } = new URL(origin);
  // Next says how the connection came, unless something in front of it that ends TLS has said it before.
  const scheme = headers.get('x-forwarded-proto')?.split(',')[0]!.trim() || 'http';
  return protocol === `${scheme}:` && host === headers.get('host');
}

/**
 * Why a request is refused: made under a foreign name (DNS rebinding), asked for by a page elsewhere (cross-site request),
 * or by somebody who has not signed in. Null for Detto's own.
 *
 * @param path what is asked for; data and files are not given to pages elsewhere, links to pages are followed
 */
export function refusedRequest(method: string, headers: Headers, path: string): Refusal | null {
  if (!isOwnHost(headers.get('host'))) return { status: 421, message: 'Detto does not answer under this name.' };
  const elsewhere: Refusal = { status: 421, message: 'Asked for by another site.' };
  if (method === 'GET' || method === 'HEAD') {
    if (/^\/(?:api|found|thumb)\//.test(path) && isElsewhere(headers)) return elsewhere;
  } else {
    const origin = headers.get('origin');
    if (origin === null ? isElsewhere(headers) : !isOwnOrigin(origin, headers)) return elsewhere;
  }
  if (OPEN.has(path)) return null;
  const admitted = admission(headers);
  if (admitted === 'admitted') return null;
  if (admitted === 'wait') return { status: 429, message: 'Too many wrong tokens. Wait a minute.' };
  return { status: 401, message: 'Sign in first, or send the token as a bearer token.' };
}

/** What may be asked for without having signed in. */
const OPEN = new Set(['/sign-in', '/api/session']);
