import { getDomain } from 'tldts';
import type { RuleContext } from '../../model/rule-context';

const web = (address: string, base?: string): URL | null => {
  if (!base && !/^\s*https?:/i.test(address)) return null;
  try {
    const url = new URL(address, base);
    return /^https?:$/.test(url.protocol) ? url : null;
  } catch {
    return null;
  }
};

/** With a scheme, or with two slashes and thus a host; everything else is on the host of its page (URL Standard, 4.4). */
const NAMES_A_HOST = /^\s*(?:[a-z][a-z\d+.-]*:|[\\/]\s*[\\/])/i;

/** What one registers: `img.skerry.example` and `skerry.example` are one owner's; an IP address is its own. */
const owner = (host: string) => getDomain(host) ?? host;

/** Host of another owner that a picture is loaded from; null where it is the page's own, or one of this house. */
export function otherHost({ appearance: a, page, picture }: RuleContext, hosts: readonly string[]): string | null {
  const src = a.markup.src ?? '';
  if (!NAMES_A_HOST.test(src)) return null;
  const home = web(page.path);
  const shown = web(src, home?.href ?? 'http://files.invalid') ?? web(picture?.src ?? '');
  const own = home?.hostname ?? 'files.invalid';
  if (!shown || owner(shown.hostname) === owner(own)) return null;
  return hosts.some((h) => shown.hostname === h || shown.hostname.endsWith(`.${h}`)) ? null : shown.hostname;
}
