/**
 * `server ARGUMENTS…`: the web application, by Next's own command line. The database, which takes as long to open as
 * Next takes to load, begins to open first; surveys that a stop broke off need both. Where it cannot be opened, the
 * process says why in one sentence and ends.
 */
import { createRequire } from 'node:module';
import { Server, type IncomingMessage } from 'node:http';
import { config } from '@/server/config';
import { PEER, peerOf } from '@/server/http/tries';
import { database } from '@/server/db/database';
import { refuseStart } from '@/server/operations/start';

/** Every request says where it comes from before Next sees it; what a client says of that counts for nothing. */
function sayPeers(): void {
  const { emit } = Server.prototype;
  Server.prototype.emit = function (this: Server, event: string, ...given: unknown[]) {
    if (event === 'request') {
      const request = given[0] as IncomingMessage;
      request.headers[PEER] = peerOf(request);
    }
    return Reflect.apply(emit, this, [event, ...given]) as boolean;
  } as typeof emit;
}

// Nothing that Detto keeps is anybody else's to read.
process.umask(0o077);
try {
  config();
  database().catch(refuseStart);
  sayPeers();
  createRequire(import.meta.url)('next/dist/bin/next');
} catch (error) {
  refuseStart(error);
}
