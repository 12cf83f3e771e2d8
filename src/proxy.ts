import { NextResponse, type NextRequest } from 'next/server';
import { refusedRequest } from './server/http/own-request';

/** What reloads pages as they are worked on (`npm run dev`) evaluates code and puts styles into them; a built Detto never is. */
const IN_DEVELOPMENT = process.env.NODE_ENV === 'development';

/** Every request but those to the HTTP interface, which looks after itself (`app/api/answering.ts`): bodies that pass here are held, and cut off. */
export const config = { matcher: ['/((?!_next/static|api/).*)'] };

/** Whose request it is, and the policy of the page it gets. */
export function proxy(request: NextRequest): NextResponse {
  const { pathname, search } = request.nextUrl;
  const refused = refusedRequest(request.method, request.headers, pathname);
  if (refused?.status === 401 && request.method === 'GET' && !/^\/(?:found|thumb)\//.test(pathname)) {
    const to = request.nextUrl.clone();
    to.pathname = '/sign-in';
    to.search = `?${new URLSearchParams({ to: pathname + search })}`;
    return NextResponse.redirect(to, 303);
  }
  if (refused) return Response.json({ error: refused.message }, { status: refused.status }) as NextResponse;
  const nonce = Buffer.from(crypto.randomUUID()).toString('base64');
  const policy = [
    "default-src 'none'",
    `script-src 'self' 'nonce-${nonce}'${IN_DEVELOPMENT ? " 'unsafe-eval'" : ''}`,
    IN_DEVELOPMENT ? "style-src 'self' 'unsafe-inline'" : `style-src 'self' 'nonce-${nonce}'`,
    // Positions of a long list, and widths of bars, are drawn by the server as attributes.
    "style-src-attr 'unsafe-inline'",
    "img-src 'self' data:",
    "font-src 'self'",
    "connect-src 'self'",
    "worker-src 'self'",
    // Found pages, which may do nothing (`/found/…/page/…`).
    "frame-src 'self'",
    "form-action 'self'",
    "base-uri 'none'",
    "frame-ancestors 'none'",
  ].join('; ');
  const headers = new Headers(request.headers);
  headers.set('content-security-policy', policy);
  const response = NextResponse.next({ request: { headers } });
  // What was found elsewhere comes with a stricter policy of its own.
  if (!request.nextUrl.pathname.match(/^\/(?:found|thumb)\//)) response.headers.set('content-security-policy', policy);
  response.headers.set('x-content-type-options', 'nosniff');
  response.headers.set('referrer-policy', 'same-origin');
  return response;
}
