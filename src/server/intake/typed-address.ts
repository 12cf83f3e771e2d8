import { config } from '../config';
import { SiteSource, parseAddress } from '../survey/site-source';
import { Skipped } from '../survey/source';

/** Milliseconds that a host has to answer under https before http is tried. */
const PATIENCE_MS = 8_000;

/**
 * An address as people type it: where it has no scheme, the one under which its host answers, https before http. Where
 * neither does, https stays, and the survey says what is wrong.
 *
 * @throws Error in words when it is no web address
 */
export async function typedAddress(typed: string): Promise<URL> {
  const secure = parseAddress(typed);
  if (/^\s*[a-z][a-z0-9+.-]*:\/\//i.test(typed)) return secure;
  if (await answers(secure)) return secure;
  const plain = new URL(secure);
  plain.protocol = 'http:';
  return (await answers(plain)) ? plain : secure;
}

/** Whether anything answers there, be it that there is no such page. */
async function answers(address: URL): Promise<boolean> {
  const { allowedHosts, contact } = config();
  const limits = { address: PATIENCE_MS, silence: PATIENCE_MS };
  const source = new SiteSource(address.href, { allowed: allowedHosts, contact, limits });
  try {
    await source.page(address.href);
    return true;
  } catch (error) {
    // Where robots.txt cannot be had, the host was asked for nothing else.
    return (
      error instanceof Skipped &&
      error.reason.id !== 'skip.robots-unreadable' &&
      !['no-answer', 'unreadable', 'refused'].includes(error.why)
    );
  } finally {
    await source.close();
  }
}
