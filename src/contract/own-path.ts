/** An origin that nothing has (RFC 6761, 6.4). */
const HERE = 'http://detto.invalid';

/**
 * A path of Detto's own, as a browser would follow it; `/` for whatever would lead elsewhere. It is judged after it was
 * parsed (URL Standard, 4.4), since parsers drop tabs and line breaks and take backslashes for slashes.
 */
export function ownPath(to: string): string {
  if (!to.startsWith('/') || !URL.canParse(to, HERE)) return '/';
  const url = new URL(to, HERE);
  if (url.origin !== HERE || url.pathname.startsWith('//')) return '/';
  return url.pathname + url.search + url.hash;
}
