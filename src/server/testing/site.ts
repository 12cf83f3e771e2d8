import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';

export interface Answer {
  status?: number;
  headers?: Record<string, string | string[]>;
  body?: string | Buffer;
  /** Milliseconds before it is given. */
  delay?: number;
}

export type Handler = (request: IncomingMessage) => Answer | 'silence' | undefined;

/** A small site for tests, on a free port of this machine. */
export class TestSite {
  readonly asked: string[] = [];

  private constructor(
    readonly origin: string,
    private readonly server: Server,
  ) {}

  /** @param port a free one when it is not given */
  static async open(handler: Handler, port = '0'): Promise<TestSite> {
    let site: TestSite | null = null;
    const server = createServer((request: IncomingMessage, response: ServerResponse) => {
      site?.asked.push(request.url ?? '');
      const answer = handler(request) ?? { status: 404 };
      if (answer === 'silence') return;
      setTimeout(() => {
        response.writeHead(answer.status ?? 200, { 'content-type': 'text/html', ...answer.headers });
        response.end(answer.body ?? '');
      }, answer.delay ?? 0);
    });
    await new Promise<void>((resolve) => server.listen(Number(port), '127.0.0.1', resolve));
    site = new TestSite(`http://127.0.0.1:${(server.address() as AddressInfo).port}`, server);
    return site;
  }

  /** As the guard takes it. */
  get host(): string {
    return new URL(this.origin).host;
  }

  async close(): Promise<void> {
    this.server.closeAllConnections();
    await new Promise((resolve) => this.server.close(resolve));
  }
}

/** A GIF of one pixel. */
export const DOT = Buffer.from('R0lGODlhAQABAIAAAP///wAAACwAAAAAAQABAAACAkQBADs=', 'base64');

/** The same with another size in its header: a screen of which one pixel is drawn (GIF89a, Logical Screen Descriptor). */
export function gif(width: number, height: number): Buffer {
  const bytes = Buffer.from(DOT);
  bytes.writeUInt16LE(width, 6);
  bytes.writeUInt16LE(height, 8);
  return bytes;
}
