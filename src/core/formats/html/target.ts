const FILES = 'http://files.invalid/';

/**
 * The path or address, as pages are known by, that a link leads to; null for what is no page's (another scheme, the same
 * page). URL Standard.
 *
 * @param from address of the page that the link stands on, or its path below the root of a collection of files
 */
export function targetPath(from: string, href: string | null): string | null {
  if (!href || href.trim().startsWith('#')) return null;
  const isSite = /^https?:/.test(from);
  try {
    const url = new URL(href, isSite ? from : FILES + from);
    url.hash = '';
    if (isSite) return /^https?:$/.test(url.protocol) ? url.href : null;
    return url.href.startsWith(FILES) ? decodeURIComponent(url.pathname).slice(1) : null;
  } catch {
    return null;
  }
}
