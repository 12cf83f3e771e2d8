import { isIP } from 'node:net';
import type { IncomingMessage } from 'node:http';

/** Wrong tries from one address within a minute, after which it has to wait (OWASP ASVS 5.0, 6.3.1). */
const MOST_TRIES = 10;
const MINUTE = 60_000;
/** Addresses of which tries are known; of more, the oldest are forgotten. */
const MOST_PEERS = 10_000;

/** Header in which this process says where a request comes from; what a client sends under this name is replaced. */
export const PEER = 'x-detto-peer';

const shared = globalThis as typeof globalThis & { dettoTries?: Map<string, number[]> };

/** Whose tries count together: an address, or of IPv6 the network of one subscriber (RFC 6177: /64 at least). */
function peerKey(peer: string | null): string {
  if (peer === null) return 'unknown';
  if (isIP(peer) !== 6) return peer;
  const [head = '', tail] = peer.split('::');
  const front = head.split(':').filter(Boolean);
  const groups = tail === undefined ? front : [...front, ...Array<string>(Math.max(0, 4 - front.length)).fill('0')];
  return groups.slice(0, 4).join(':');
}

function triesOf(peer: string | null, now: number): number[] {
  const all = (shared.dettoTries ??= new Map<string, number[]>());
  return (all.get(peerKey(peer)) ?? []).filter((at) => at > now - MINUTE);
}

/** Whether somebody at an address has to wait. @param now milliseconds */
export const tooManyTries = (peer: string | null, now: number): boolean => triesOf(peer, now).length >= MOST_TRIES;

/** Notes a wrong try. @param now milliseconds */
export function wrongTry(peer: string | null, now: number): void {
  const all = (shared.dettoTries ??= new Map());
  const key = peerKey(peer);
  const tries = [...triesOf(peer, now), now];
  // Written again, it is the latest in order.
  all.delete(key);
  all.set(key, tries);
  for (const oldest of all.keys()) {
    if (all.size <= MOST_PEERS) break;
    all.delete(oldest);
  }
}

const isLoopback = (address: string) => /^(?:127\.|::1$|::ffff:127\.)/.test(address);

/** Where a request comes from: the other end of its connection, or what a proxy on this machine says it forwards for. */
export function peerOf({ headers, socket }: Pick<IncomingMessage, 'headers' | 'socket'>): string {
  const address = socket.remoteAddress ?? 'unknown';
  const forwarded = String(headers['x-forwarded-for'] ?? '')
    .split(',')
    .at(-1)!
    .trim();
  return isLoopback(address) && forwarded !== '' ? forwarded.slice(0, 64) : address;
}
