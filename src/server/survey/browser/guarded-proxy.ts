import http from 'node:http';
import type { AddressInfo } from 'node:net';
import type { Duplex } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { Agent, request as fetchFrom } from 'undici';
import type { Allowed } from '../../net/allowed';
import { guardedConnect } from '../../net/guard';

/** Milliseconds of silence after which a connection is given up. */
const SILENCE = 15_000;
/** Of one connection, so that a page cannot fill the machine. */
const MOST_BYTES = 100 * 1024 * 1024;
const HOP_BY_HOP = /^(?:connection|keep-alive|proxy-.*|te|trailer|transfer-encoding|upgrade)$/i;

/**
 * The only way out for the browser: a forward proxy on loopback that lets through what the guard lets through,
 * whatever the page asks for (redirects, frames, sockets, requests of scripts).
 */
export class GuardedProxy {
  private readonly server: http.Server;
  private readonly connect;
  private readonly agent: Agent;
  private readonly tunnels = new Set<Duplex>();

  constructor(allowed: readonly Allowed[]) {
    this.connect = guardedConnect(allowed);
    this.agent = new Agent({ connect: this.connect, headersTimeout: SILENCE, bodyTimeout: SILENCE });
    this.server = http.createServer((request, response) => {
      this.forward(request, response).catch((error: Error) => {
        if (response.headersSent) return response.destroy();
        response.writeHead(502, { 'content-type': 'text/plain; charset=utf-8' });
        response.end(error.message);
      });
    });
    this.server.on('connect', (request, client) => this.tunnel(request.url ?? '', client));
    this.server.on('clientError', (_, socket) => socket.destroy());
  }

  /** @returns its address, as a browser is reported */
  async listen(): Promise<string> {
    await new Promise<void>((resolve) => this.server.listen(0, '127.0.0.1', resolve));
    return `http://127.0.0.1:${(this.server.address() as AddressInfo).port}`;
  }

  async close(): Promise<void> {
    for (const tunnel of this.tunnels) tunnel.destroy();
    this.server.closeAllConnections();
    await new Promise((resolve) => this.server.close(resolve));
    await this.agent.destroy();
  }

  private async forward(request: http.IncomingMessage, response: http.ServerResponse): Promise<void> {
    // Only a proxy's client writes a whole address; a page that asks this port directly does not.
    if (!/^http:\/\//i.test(request.url ?? '')) {
      response.writeHead(400).end();
      return;
    }
    const abort = new AbortController();
    response.on('close', () => abort.abort());
    const headers = Object.entries(request.headers).filter(([name, value]) => value && !HOP_BY_HOP.test(name));
    const hasBody = request.method !== 'GET' && request.method !== 'HEAD';
    const answer = await fetchFrom(request.url!, {
      dispatcher: this.agent,
      method: request.method as 'GET',
      headers: Object.fromEntries(headers) as Record<string, string>,
      signal: abort.signal,
      ...(hasBody ? { body: request } : {}),
    });
    const kept = Object.entries(answer.headers).filter(([name, value]) => value && !HOP_BY_HOP.test(name));
    response.writeHead(answer.statusCode, Object.fromEntries(kept) as http.OutgoingHttpHeaders);
    let size = 0;
    answer.body.on('data', (part: Buffer) => {
      size += part.length;
      if (size > MOST_BYTES) response.destroy();
    });
    await pipeline(answer.body, response);
  }

  private tunnel(target: string, client: Duplex): void {
    const refuse = (status: string) => client.end(`HTTP/1.1 ${status}\r\n\r\n`);
    client.on('error', () => client.destroy());
    const m = /^(\[[^\]]+\]|[^:]+):(\d{1,5})$/.exec(target);
    if (!m) return void refuse('400 Bad Request');
    // Plain on this side whatever is spoken through it: the browser does its own TLS.
    this.connect({ hostname: m[1]!, port: m[2]!, protocol: 'http:', host: target }, (error, socket) => {
      if (error) return void refuse('502 Bad Gateway');
      let size = 0;
      this.tunnels.add(client);
      client.once('close', () => {
        this.tunnels.delete(client);
        socket.destroy();
      });
      socket.on('data', (part: Buffer) => {
        size += part.length;
        if (size > MOST_BYTES) socket.destroy();
      });
      socket.setTimeout(SILENCE * 4, () => socket.destroy());
      socket.on('error', () => client.destroy());
      socket.on('close', () => client.destroy());
      client.write('HTTP/1.1 200 Connection Established\r\n\r\n');
      socket.pipe(client);
      client.pipe(socket);
    });
  }
}
