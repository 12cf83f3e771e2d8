import { NextResponse, type NextRequest } from 'next/server';

/** Names under which Detto answers; any other is a page elsewhere that points its name at this machine. */
function isOwnHost(host: string | null): boolean {
  const name = (host ?? '').replace(/:\d+$/, '').toLowerCase();
  return ['127.0.0.1', 'localhost', '[::1]', process.env['DETTO_HOST'] ?? ''].includes(name) && name !== '';
}

/** Every request: the host it was made to, and the policy of the page it gets. */
export function proxy(request: NextRequest): NextResponse {
  if (!isOwnHost(request.headers.get('host')))
    return new NextResponse('Detto does not answer under this name.', { status: 421 });
  const nonce = Buffer.from(crypto.randomUUID()).toString('base64');
  const policy = [
    "default-src 'none'",
    `script-src 'self' 'nonce-${nonce}'`,
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data:",
    "font-src 'self'",
    "connect-src 'self'",
    "form-action 'self'",
    "base-uri 'none'",
    "frame-ancestors 'none'",
  ].join('; ');
  const headers = new Headers(request.headers);
  headers.set('content-security-policy', policy);
  const response = NextResponse.next({ request: { headers } });
  response.headers.set('content-security-policy', policy);
  response.headers.set('x-content-type-options', 'nosniff');
  response.headers.set('referrer-policy', 'same-origin');
  return response;
}
