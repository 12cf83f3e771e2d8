import type { Access } from '@/contract/access';

export const PRODUCT = 'DettoBot';

/** How Detto names itself to servers, with a way to reach the person who runs it where they give one. */
export const userAgent = (contact: string): string =>
  `${PRODUCT}/0.1 (alt text survey; asked for by an editor of this site${contact ? `; ${contact.replace(/[()\\]/g, '')}` : ''})`;

/** The headers that carry a user name and password (RFC 7617), or the header that a site asks for. */
export function accessHeaders(access: Access | null): Record<string, string> {
  if (!access) return {};
  if ('header' in access) return { [access.header.toLowerCase()]: access.value };
  return { authorization: `Basic ${Buffer.from(`${access.user}:${access.password}`).toString('base64')}` };
}
