import { Agent, interceptors, request, type Dispatcher } from 'undici';
import { guardedConnect, RefusedAddress, type Allowed } from './guard';
import { Robots, ROBOTS_LIMIT } from './robots';
import { LIMITS, megabytes, Skipped, type FetchedPage, type Source } from './source';

export const PRODUCT = 'DettoBot';
const USER_AGENT = `${PRODUCT}/0.1 (alt text survey; asked for by an editor of this site)`;
const MAX_REDIRECTS = 10;
/** Milliseconds for one address, redirects included. */
const ADDRESS_LIMIT = 20_000;
const SILENCE_LIMIT = 8_000;
/** Names that are no pages; links to them are not followed. */
const NOT_A_PAGE =
  /\.(?:png|jpe?g|gif|webp|avif|svg|ico|bmp|tiff?|css|js|mjs|json|xml|rss|atom|pdf|zip|gz|tgz|xz|bz2|tar|7z|mp[34]|m4[av]|webm|ogg|wav|woff2?|ttf|otf|eot|docx?|pptx?|xlsx?|od[tps]|epub|txt|ics|exe|dmg|deb)$/i;

interface Response {
  address: string;
  status: number;
  type: string;
  body: Buffer;
}

/** A site, by HTTP: one host, robots.txt obeyed, private addresses refused unless allowed. */
export class SiteSource implements Source {
  private readonly start: URL;
  private readonly dispatcher: Dispatcher;
  private readonly agent: Agent;
  private readonly robots = new Map<string, Promise<Robots | null>>();

  /** @throws Error when the address is not one */
  constructor(
    address: string,
    allowed: readonly Allowed[],
    private readonly signal?: AbortSignal,
    private readonly limits = { address: ADDRESS_LIMIT, silence: SILENCE_LIMIT },
  ) {
    this.start = parseAddress(address);
    this.agent = new Agent({
      connect: guardedConnect(allowed),
      connections: 4,
      headersTimeout: limits.silence,
      bodyTimeout: limits.silence,
      maxHeaderSize: 65_536,
    });
    this.dispatcher = this.agent.compose(interceptors.decompress());
  }

  async seeds() {
    return { addresses: [withoutHash(this.start)], skipped: [] };
  }

  async page(address: string): Promise<FetchedPage> {
    const response = await this.fetch(address, LIMITS.page, 'page');
    if (!/^(?:text\/html|application\/xhtml\+xml)\b/i.test(response.type || 'text/html'))
      throw new Skipped(`not a page but ${response.type.split(';')[0]}`);
    const charset = /charset\s*=\s*"?([^";\s]+)/i.exec(response.type)?.[1];
    return { bytes: response.body, address: response.address, ...(charset ? { transport: charset } : {}) };
  }

  async picture(address: string): Promise<Buffer> {
    return (await this.fetch(address, LIMITS.picture, 'picture')).body;
  }

  resolve(reference: string, page: string, base: string | null): string | null {
    try {
      const url = new URL(reference.trim(), base ? new URL(base, page) : page);
      return /^https?:$/.test(url.protocol) ? withoutHash(url) : null;
    } catch {
      return null;
    }
  }

  follows(address: string): { follow: boolean; reason?: string } {
    const url = new URL(address);
    if (NOT_A_PAGE.test(url.pathname)) return { follow: false };
    if (url.host !== this.start.host) return { follow: false, reason: `on another host, ${url.host}` };
    return { follow: true };
  }

  async close(): Promise<void> {
    await this.agent.destroy();
  }

  /** GET with redirects followed by hand, so that scope, robots and guard are asked at every step. */
  private async fetch(address: string, limit: number, what: 'page' | 'picture'): Promise<Response> {
    const clock = AbortSignal.timeout(this.limits.address);
    const signal = this.signal ? AbortSignal.any([this.signal, clock]) : clock;
    let current = address;
    const seen = new Set<string>();
    try {
      for (let step = 0; step <= MAX_REDIRECTS; step++) {
        if (seen.has(current)) throw new Skipped(`it redirects to itself (${current})`);
        seen.add(current);
        await this.askRobots(current);
        const response = await request(current, {
          dispatcher: this.dispatcher,
          signal,
          headers: { 'user-agent': USER_AGENT, accept: what === 'page' ? 'text/html,*/*;q=0.5' : 'image/*,*/*;q=0.5' },
        });
        const location = response.headers['location'];
        if (response.statusCode >= 300 && response.statusCode < 400 && location) {
          await response.body.dump({ limit: 65_536 }).catch(() => undefined);
          current = this.redirected(String(location), current, what);
          continue;
        }
        const type = String(response.headers['content-type'] ?? '');
        if (response.statusCode >= 400) {
          await response.body.dump({ limit: 65_536 }).catch(() => undefined);
          throw new Skipped(
            response.statusCode === 404 ? 'not found (404)' : `the server answered ${response.statusCode}`,
          );
        }
        return { address: current, status: response.statusCode, type, body: await bodyOf(response.body, limit, what) };
      }
      throw new Skipped(`more than ${MAX_REDIRECTS} redirects`);
    } catch (error) {
      if (this.signal?.aborted) throw new Skipped('the survey was stopped');
      throw inWords(error, clock.aborted ? this.limits.address : null, this.limits.silence);
    }
  }

  private redirected(location: string, from: string, what: 'page' | 'picture'): string {
    const next = this.resolve(location, from, null);
    if (!next) throw new Skipped(`it redirects to something that is no address (${location.slice(0, 80)})`);
    const { follow, reason } = this.follows(next);
    if (what === 'page' && !follow && reason) throw new Skipped(`it redirects to ${next}, ${reason}`);
    return next;
  }

  private async askRobots(address: string): Promise<void> {
    const url = new URL(address);
    if (url.host !== this.start.host) return;
    let known = this.robots.get(url.origin);
    if (!known) this.robots.set(url.origin, (known = this.readRobots(url.origin)));
    const robots = await known;
    if (!robots) throw new Skipped('robots.txt could not be read, which forbids everything (RFC 9309)', true);
    if (!robots.allows(url.pathname + url.search)) throw new Skipped('blocked by robots.txt', true);
  }

  /** Null when the server fails, which RFC 9309 2.3.1.4 reads as "complete disallow". */
  private async readRobots(origin: string): Promise<Robots | null> {
    let current = `${origin}/robots.txt`;
    for (let step = 0; step <= 5; step++) {
      const signal = AbortSignal.timeout(this.limits.address);
      const response = await request(current, {
        dispatcher: this.dispatcher,
        signal,
        headers: { 'user-agent': USER_AGENT },
      });
      const location = response.headers['location'];
      if (response.statusCode >= 300 && response.statusCode < 400 && location) {
        await response.body.dump({ limit: 65_536 }).catch(() => undefined);
        const next = this.resolve(String(location), current, null);
        if (!next) break;
        current = next;
        continue;
      }
      if (response.statusCode >= 500) {
        await response.body.dump({ limit: 65_536 }).catch(() => undefined);
        return null;
      }
      if (response.statusCode >= 400) {
        await response.body.dump({ limit: 65_536 }).catch(() => undefined);
        break;
      }
      const text = await bodyOf(response.body, ROBOTS_LIMIT, 'page').catch(() => Buffer.alloc(0));
      return new Robots(text.toString('utf8'), PRODUCT);
    }
    return new Robots('', PRODUCT);
  }
}

/** @throws Error in words for people when the text is no web address */
export function parseAddress(text: string): URL {
  const trimmed = text.trim();
  let url: URL;
  try {
    url = new URL(/^[a-z][a-z0-9+.-]*:\/\//i.test(trimmed) ? trimmed : `https://${trimmed}`);
  } catch {
    throw new Error(`“${trimmed.slice(0, 120)}” is not a web address. It should look like https://example.org/.`);
  }
  if (url.protocol !== 'https:' && url.protocol !== 'http:')
    throw new Error(`Detto surveys http and https addresses, not ${url.protocol}//.`);
  if (url.username || url.password) throw new Error('Leave the user name and password out of the address.');
  return url;
}

function withoutHash(url: URL): string {
  const copy = new URL(url);
  copy.hash = '';
  return copy.href;
}

async function bodyOf(body: Dispatcher.ResponseData['body'], limit: number, what: string): Promise<Buffer> {
  const parts: Buffer[] = [];
  let size = 0;
  for await (const part of body as AsyncIterable<Buffer>) {
    size += part.length;
    if (size > limit) {
      body.destroy();
      throw new Skipped(`over the limit of ${megabytes(limit)} for a ${what}`);
    }
    parts.push(part);
  }
  return Buffer.concat(parts);
}

const seconds = (ms: number) => `${Math.round(ms / 100) / 10} seconds`;

/** Network errors in words that say what happened. */
function inWords(error: unknown, timedOut: number | null, silence: number): Skipped {
  if (error instanceof Skipped) return error;
  if (timedOut !== null) return new Skipped(`no end after ${seconds(timedOut)}`);
  const e = error as Error & { code?: string; cause?: { code?: string } };
  if (error instanceof RefusedAddress || e.code === 'EREFUSED')
    return new Skipped(`${e.message}; Detto does not go there unless the person who runs it allows it`, true);
  switch (e.code ?? e.cause?.code) {
    case 'ENOTFOUND':
    case 'EAI_AGAIN':
      return new Skipped('no host of that name');
    case 'ECONNREFUSED':
      return new Skipped('nothing answers at that address');
    case 'UND_ERR_CONNECT_TIMEOUT':
    case 'ETIMEDOUT':
      return new Skipped('the host does not answer');
    case 'UND_ERR_HEADERS_TIMEOUT':
    case 'UND_ERR_BODY_TIMEOUT':
      return new Skipped(`the host was silent for ${seconds(silence)}`);
    case 'ECONNRESET':
    case 'UND_ERR_SOCKET':
      return new Skipped('the host broke off the connection');
  }
  return new Skipped(`it could not be fetched (${e.message.split('\n')[0]})`);
}
