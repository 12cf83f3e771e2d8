import dns from 'node:dns';
import net from 'node:net';
import { buildConnector } from 'undici';
import type { Message } from '@/core/model/message';
import { refusal, type Allowed } from './allowed';

/** An address that Detto does not connect to; `reason` says why. */
export class RefusedAddress extends Error {
  readonly code = 'EREFUSED';

  constructor(readonly reason: Message) {
    super(reason.id);
  }
}

/**
 * A connect function for undici that resolves a host once, checks every address it has, connects to a checked
 * one and checks the peer again, so that a name cannot point elsewhere between check and connection.
 */
export function guardedConnect(allowed: readonly Allowed[], timeout = 8000): buildConnector.connector {
  const connect = buildConnector({ timeout });
  return (options, callback) => {
    const host = options.hostname.replace(/^\[|\]$/g, '');
    const port = Number(options.port) || (options.protocol === 'https:' ? 443 : 80);
    void (async () => {
      const family = net.isIP(host);
      const addresses = family
        ? [{ address: host, family }]
        : await dns.promises.lookup(host, { all: true, verbatim: true });
      for (const { address } of addresses) {
        const reason = refusal(address, port, host, allowed);
        if (reason) throw new RefusedAddress(reason);
      }
      const { address } = addresses[0] ?? {};
      if (!address) throw new RefusedAddress({ id: 'refused.no-address', values: { host } });
      const servername = options.servername ?? (family ? undefined : host);
      connect({ ...options, hostname: address, host: address, ...(servername ? { servername } : {}) }, (...result) => {
        const socket = result[1];
        const peer = socket?.remoteAddress;
        const reason = peer ? refusal(peer, port, host, allowed) : null;
        if (!socket || !reason) return callback(...result);
        socket.destroy();
        callback(new RefusedAddress(reason), null);
      });
    })().catch((error: unknown) => callback(error as Error, null));
  };
}
