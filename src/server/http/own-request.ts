/** Names under which Detto answers; any other is a page elsewhere that points its name at this machine. */
function isOwnHost(host: string | null): boolean {
  const name = (host ?? '').replace(/:\d+$/, '').toLowerCase();
  return name !== '' && ['127.0.0.1', 'localhost', '[::1]', process.env['DETTO_HOST'] ?? ''].includes(name);
}

/**
 * Why a request is refused: made under a foreign name (DNS rebinding), or a change asked for by a page
 * elsewhere (cross-site request). Null for Detto's own.
 */
export function refusedRequest(method: string, headers: Headers): string | null {
  const host = headers.get('host');
  if (!isOwnHost(host)) return 'Detto does not answer under this name.';
  if (method === 'GET' || method === 'HEAD') return null;
  const origin = headers.get('origin');
  if (origin === null) return headers.get('sec-fetch-site') === 'cross-site' ? 'Asked for by another site.' : null;
  return URL.canParse(origin) && new URL(origin).host === host ? null : 'Asked for by another site.';
}
