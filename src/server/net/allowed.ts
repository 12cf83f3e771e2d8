import { UserError } from '@/core/model/user-error';
import ipaddr from 'ipaddr.js';
import type { Message } from '@/core/model/message';

/** Services of cloud machines that hand out secrets; never reached, whatever is allowed. */
const METADATA = new Set([
  '169.254.169.254',
  '169.254.170.2',
  '169.254.169.253',
  '100.100.100.200',
  '192.0.0.192',
  '168.63.129.16',
  'fd00:ec2::254',
  'fd00:ec2::253',
  'fd20:ce::254',
]);
const NEVER = new Set(['linkLocal', 'multicast', 'broadcast', 'unspecified']);

/** One thing that the person running Detto allowed: a host or a range of addresses, at one port or at all. */
export interface Allowed {
  host?: string;
  range?: [ipaddr.IPv4 | ipaddr.IPv6, number];
  port?: number;
}

/**
 * Reads `host`, `host:port`, `[::1]:port`, `10.0.0.0/8` or `10.0.0.0/8:port`.
 *
 * @throws Error when it is none of these
 */
export function parseAllowed(text: string): Allowed {
  const m = /^(\[[^\]]+\]|[^:/\s]+|[0-9a-f:]+:[0-9a-f:]*)(\/\d{1,3})?(?::(\d{1,5}))?$/i.exec(text.trim());
  const port = m?.[3] ? Number(m[3]) : undefined;
  if (!m || (port !== undefined && (port < 1 || port > 65535)))
    throw new UserError(`“${text}” is not a host, such as localhost:8080 or 10.0.0.0/8.`);
  const name = m[1]!.replace(/^\[|\]$/g, '').toLowerCase();
  const base = port === undefined ? {} : { port };
  if (m[2]) return { ...base, range: ipaddr.parseCIDR(name + m[2]) };
  return { ...base, host: name };
}

/** An address as the network treats it: mapped, translated and tunnelled forms as the IPv4 address inside. */
function canonical(address: string): ipaddr.IPv4 | ipaddr.IPv6 {
  const parsed = ipaddr.parse(address.replace(/^\[|\]$/g, '').replace(/%.*$/, ''));
  if (parsed.kind() === 'ipv4') return parsed;
  const v6 = parsed as ipaddr.IPv6;
  if (v6.isIPv4MappedAddress()) return v6.toIPv4Address();
  const p = v6.parts;
  const inner = (high: number, low: number) => new ipaddr.IPv4([high >> 8, high & 255, low >> 8, low & 255]);
  const range = v6.range();
  if (range === 'rfc6052' || range === 'rfc6145') return inner(p[6]!, p[7]!);
  if (range === '6to4') return inner(p[1]!, p[2]!);
  // The deprecated IPv4-compatible form ::a.b.c.d, which the library calls unicast.
  if (p.slice(0, 6).every((x) => x === 0) && (p[6]! > 0 || p[7]! > 1)) return inner(p[6]!, p[7]!);
  return v6;
}

/** Null when an address may be connected to, else the reason. */
export function refusal(address: string, port: number, host: string, allowed: readonly Allowed[]): Message | null {
  let ip: ipaddr.IPv4 | ipaddr.IPv6;
  try {
    ip = canonical(address);
  } catch {
    return { id: 'refused.unusable', values: { host } };
  }
  const text = ip.toString();
  if (METADATA.has(text)) return { id: 'refused.metadata', values: { host, address: text } };
  const range = ip.range();
  if (range === 'unicast') return null;
  const reason = {
    id: range === 'loopback' ? 'refused.this-machine' : 'refused.private',
    values: { host, address: text },
  };
  if (NEVER.has(range)) return reason;
  for (const a of allowed) {
    if (a.port !== undefined && a.port !== port) continue;
    if (a.host && (a.host === host.toLowerCase().replace(/\.$/, '') || a.host === text)) return null;
    if (a.range && a.range[0].kind() === ip.kind() && ip.match(a.range as [ipaddr.IPv4, number])) return null;
  }
  return reason;
}
