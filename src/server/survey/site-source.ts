import { UserError } from '@/core/model/user-error';
import { Agent, interceptors, request, type Dispatcher } from 'undici';
import type { Access } from '@/contract/access';
import { Scope } from '@/contract/scope';
import { formatOf, formatOfName } from '@/core/formats';
import type { FormatId } from '@/core/model/document';
import type { Allowed } from '../net/allowed';
import { guardedConnect } from '../net/guard';
import type { LimitsPort } from '../ports/limits';
import { HostGate, retryAfter } from './host-gate';
import { bodyOf, drop, startOf } from './bodies';
import { asReason } from './fetch-failures';
import { accessHeaders, PRODUCT, userAgent } from './request-headers';
import { Robots, ROBOTS_LIMIT } from './robots';
import { SiteScope } from './site-scope';
import { readSitemap } from './sitemaps';
import {
  LIMITS,
  Skipped,
  UNCHANGED,
  type FetchedPage,
  type FetchedPicture,
  type Source,
  type Validators,
} from './source';

const MAX_REDIRECTS = 10;
/** Milliseconds for one address, redirects included. */
const ADDRESS_LIMIT = 20_000;
const SILENCE_LIMIT = 8_000;
/** Times that a host which is too busy is asked again, and the first wait in milliseconds. */
const RETRIES = 3;
const FIRST_WAIT = 1000;
const MOST_SITEMAPS = 50;

interface Response extends Validators {
  address: string;
  status: number;
  type: string;
  directives: string[];
  body: Buffer;
}

export interface SiteOptions {
  allowed: readonly Allowed[];
  signal?: AbortSignal | undefined;
  scope?: Partial<Scope>;
  contact?: string;
  access?: Access | null;
  limits?: Partial<SiteLimits>;
  /** Where turns at a host are taken; its own by default. */
  turns?: LimitsPort;
}

export interface SiteLimits {
  /** Milliseconds for one address, and of silence. */
  address: number;
  silence: number;
  /** Milliseconds before a busy host is asked again the first time. */
  firstWait: number;
}

/** A site, by HTTP: its hosts, robots.txt obeyed, private addresses refused unless allowed. */
export class SiteSource implements Source {
  readonly isSite = true;
  readonly obeysRobots: boolean;
  private readonly starts: URL[];
  private readonly scope: SiteScope;
  private readonly settings: Scope;
  private readonly dispatcher: Dispatcher;
  private readonly agent: Agent;
  private readonly gate: HostGate;
  private readonly robots = new Map<string, Promise<Robots | null>>();
  private readonly limits: SiteLimits;
  private readonly signal: AbortSignal | undefined;
  private readonly userAgent: string;
  private readonly access: Record<string, string>;

  /** @throws Error when an address is not one */
  constructor(address: string, { allowed, signal, scope, contact = '', access = null, limits, turns }: SiteOptions) {
    this.signal = signal;
    this.userAgent = userAgent(contact);
    this.access = accessHeaders(access);
    this.settings = Scope.parse(scope ?? {});
    this.limits = { address: ADDRESS_LIMIT, silence: SILENCE_LIMIT, firstWait: FIRST_WAIT, ...limits };
    this.starts = [address, ...this.settings.addresses].map(parseAddress);
    this.scope = new SiteScope(this.starts, this.settings);
    this.obeysRobots = this.settings.obeyRobots;
    this.gate = new HostGate(this.settings.perSecond ? 1000 / this.settings.perSecond : 0, turns);
    this.agent = new Agent({
      connect: guardedConnect(allowed),
      connections: 4,
      headersTimeout: this.limits.silence,
      bodyTimeout: this.limits.silence,
      maxHeaderSize: 65_536,
    });
    this.dispatcher = this.agent.compose(interceptors.decompress());
  }

  async seeds() {
    const addresses = new Set(this.starts.map(withoutHash));
    const skipped: { address: string; skipped: Skipped }[] = [];
    if (!this.settings.follow || !this.settings.sitemaps) return { addresses: [...addresses], skipped };
    const [start] = this.starts;
    const robots = await this.robotsOf(start!).catch(() => null);
    const named = robots?.sitemaps ?? [];
    const todo = named.length > 0 ? [...named] : [new URL('/sitemap.xml', start).href];
    const seen = new Set<string>();
    while (todo.length > 0 && seen.size < MOST_SITEMAPS && !this.signal?.aborted) {
      const sitemap = this.resolve(todo.shift()!, start!.href, null);
      if (!sitemap || seen.has(sitemap)) continue;
      seen.add(sitemap);
      try {
        const read = readSitemap((await this.fetch(sitemap, LIMITS.picture, 'sitemap')).body);
        todo.push(...read.sitemaps);
        for (const page of read.pages) {
          const found = this.resolve(page, sitemap, null);
          if (found && this.outside(found) === null) addresses.add(found);
        }
      } catch (error) {
        // Nobody promised the usual place; a sitemap that was named should be there.
        if (named.length === 0) continue;
        const own =
          error instanceof Skipped
            ? error
            : new Skipped({ id: 'skip.not-a-sitemap', values: { detail: (error as Error).message.split('\n')[0]! } });
        skipped.push({ address: sitemap, skipped: own });
      }
    }
    return { addresses: [...addresses], skipped };
  }

  async page(address: string, known?: Validators): Promise<FetchedPage | typeof UNCHANGED> {
    const limit = this.takesDocuments(address) ? LIMITS.document : LIMITS.page;
    const response = await this.fetch(address, limit, 'page', known);
    if (response.status === 304) return UNCHANGED;
    const format = this.formatOf(response);
    if (format === null)
      throw new Skipped(
        { id: 'skip.not-a-page', values: { type: response.type.split(';')[0]! } },
        'not-a-page',
        response.status,
      );
    const charset = /charset\s*=\s*"?([^";\s]+)/i.exec(response.type)?.[1];
    const { body, address: at, status, directives, etag, lastModified } = response;
    return {
      bytes: body,
      format,
      address: at,
      status,
      directives,
      etag,
      lastModified,
      ...(charset ? { transport: charset } : {}),
    };
  }

  /** Documents are read where a survey begins with them, or wants those that it is led to. */
  private takesDocuments(address: string): boolean {
    const name = new URL(address).pathname;
    const isWanted = this.settings.documents || this.starts.some((s) => withoutHash(s) === address);
    return isWanted && formatOfName(name) !== null && formatOfName(name) !== 'html';
  }

  private formatOf({ type, address, body }: Response): FormatId | null {
    const given = type.split(';')[0]!.trim() || 'text/html';
    if (/^(?:text\/html|application\/xhtml\+xml)$/i.test(given)) return 'html';
    if (!this.takesDocuments(address)) return null;
    // Servers often give documents no type of their own, or that of any bytes.
    const name = new URL(address).pathname;
    const isVague = /^(?:application\/octet-stream|application\/zip|text\/plain|binary\/)/i.test(given);
    return formatOf({ bytes: body.subarray(0, 512), name, type: isVague ? null : given })?.id ?? null;
  }

  async picture(address: string, known?: Validators): Promise<FetchedPicture | typeof UNCHANGED> {
    const { status, body, etag, lastModified } = await this.fetch(address, LIMITS.picture, 'picture', known);
    return status === 304 ? UNCHANGED : { bytes: body, etag, lastModified };
  }

  resolve(reference: string, page: string, base: string | null): string | null {
    try {
      const url = new URL(reference.trim(), base ? new URL(base, page) : page);
      return /^https?:$/.test(url.protocol) ? withoutHash(url) : null;
    } catch {
      return null;
    }
  }

  outside(address: string): Skipped | 'no page' | null {
    if (this.settings.follow) return this.scope.outside(address);
    return this.starts.some((s) => withoutHash(s) === address) ? null : 'no page';
  }

  async close(): Promise<void> {
    await this.agent.destroy();
  }

  /** GET with redirects followed by hand, so that scope, robots and guard are asked at every step. */
  private async fetch(
    address: string,
    limit: number,
    what: 'page' | 'picture' | 'sitemap',
    known?: Validators,
  ): Promise<Response> {
    let clock = AbortSignal.timeout(this.limits.address);
    let current = address;
    let retries = 0;
    const seen = new Set<string>();
    try {
      for (let step = 0; step <= MAX_REDIRECTS;) {
        if (seen.has(current))
          throw new Skipped({ id: 'skip.redirect-loop', values: { address: current } }, 'redirect');
        await this.askRobots(current);
        const url = new URL(current);
        await this.gate.turn(url.host, this.signal);
        // Waiting for one's turn is not the host's silence.
        clock = AbortSignal.timeout(this.limits.address);
        const response = await request(current, {
          dispatcher: this.dispatcher,
          signal: this.signal ? AbortSignal.any([this.signal, clock]) : clock,
          headers: this.headersFor(url, what, known),
        });
        const { statusCode: status, headers, body } = response;
        if ((status === 429 || status === 503) && retries < RETRIES) {
          await drop(body);
          const asked = retryAfter(headers['retry-after']?.toString(), Date.now());
          await this.gate.pause(url.host, asked ?? this.limits.firstWait * 2 ** retries);
          retries++;
          continue;
        }
        const location = headers['location'];
        if (status >= 300 && status < 400 && status !== 304 && location) {
          await drop(body);
          seen.add(current);
          current = this.redirected(String(location), current, what, status);
          step++;
          continue;
        }
        if (status >= 400) {
          await drop(body);
          const missing = status === 404 || status === 410;
          throw new Skipped(
            { id: missing ? 'skip.not-found' : 'skip.server', values: { status } },
            missing ? 'not-found' : 'server',
            status,
          );
        }
        return {
          address: current,
          status,
          type: String(headers['content-type'] ?? ''),
          directives: directivesOf(headers['x-robots-tag']),
          etag: headers['etag']?.toString() ?? null,
          lastModified: headers['last-modified']?.toString() ?? null,
          body: status === 304 ? (await drop(body), Buffer.alloc(0)) : await bodyOf(body, limit, what, status),
        };
      }
      throw new Skipped({ id: 'skip.many-redirects', values: { limit: MAX_REDIRECTS } }, 'redirect');
    } catch (error) {
      if (this.signal?.aborted) throw new Skipped({ id: 'skip.stopped' });
      throw asReason(error, clock.aborted ? this.limits.address : null, this.limits.silence);
    }
  }

  private headersFor(url: URL, what: keyof typeof ACCEPT, known?: Validators): Record<string, string> {
    return {
      'user-agent': this.userAgent,
      accept: ACCEPT[what],
      ...this.accessTo(url),
      ...(known?.etag ? { 'if-none-match': known.etag } : {}),
      ...(known?.lastModified && !known.etag ? { 'if-modified-since': known.lastModified } : {}),
    };
  }

  /** Never for another host, wherever a redirect or a picture leads. */
  private accessTo(url: URL): Record<string, string> {
    return this.starts.some((start) => start.origin === url.origin) ? this.access : {};
  }

  private redirected(location: string, from: string, what: 'page' | 'picture' | 'sitemap', status: number): string {
    const next = this.resolve(location, from, null);
    if (!next)
      throw new Skipped(
        { id: 'skip.redirect-nowhere', values: { location: location.slice(0, 80) } },
        'redirect',
        status,
      );
    // A list of addresses, or one page, may stand behind a redirect on its own hosts.
    const outside = what === 'page' ? this.scope.outside(next) : null;
    if (outside instanceof Skipped)
      throw new Skipped(
        { id: 'skip.redirect-outside', values: { address: next, reason: outside.reason } },
        outside.why,
        status,
      );
    return next;
  }

  private async askRobots(address: string): Promise<void> {
    const url = new URL(address);
    if (!this.scope.isOwnHost(url)) return;
    const robots = await this.robotsOf(url);
    if (!this.obeysRobots) return;
    if (!robots) throw new Skipped({ id: 'skip.robots-failed' }, 'robots');
    if (!robots.allows(url.pathname + url.search)) throw new Skipped({ id: 'skip.robots' }, 'robots');
  }

  private robotsOf(url: URL): Promise<Robots | null> {
    let known = this.robots.get(url.origin);
    if (!known) {
      known = this.readRobots(url.origin).then((robots) => {
        this.gate.space(url.host, this.obeysRobots ? (robots?.crawlDelay ?? null) : null);
        return robots;
      });
      this.robots.set(url.origin, known);
    }
    return known;
  }

  /**
   * Null when the server fails, which RFC 9309 2.3.1.4 reads as "complete disallow".
   *
   * @throws Skipped with the reason when it cannot be reached at all
   */
  private async readRobots(origin: string): Promise<Robots | null> {
    let current = `${origin}/robots.txt`;
    try {
      for (let step = 0; step <= 5; step++) {
        const signal = AbortSignal.timeout(this.limits.address);
        const { statusCode, headers, body } = await request(current, {
          dispatcher: this.dispatcher,
          signal,
          headers: { 'user-agent': this.userAgent, ...this.accessTo(new URL(current)) },
        });
        const location = headers['location'];
        if (statusCode >= 300 && statusCode < 400 && location) {
          await drop(body);
          const next = this.resolve(String(location), current, null);
          if (!next) break;
          current = next;
          continue;
        }
        if (statusCode >= 400) {
          await drop(body);
          if (statusCode >= 500) return null;
          break;
        }
        return new Robots((await startOf(body, ROBOTS_LIMIT)).toString('utf8'), PRODUCT);
      }
      return new Robots('', PRODUCT);
    } catch (error) {
      const { reason, why } = asReason(error, null, this.limits.silence);
      const moved = current !== `${origin}/robots.txt`;
      throw new Skipped(
        {
          id: moved ? 'skip.robots-moved' : 'skip.robots-unreadable',
          values: { reason, address: current.slice(0, 200) },
        },
        why === 'refused' ? 'refused' : 'robots',
      );
    }
  }
}

/** @throws Error in words for people when the text is no web address */
export function parseAddress(text: string): URL {
  const trimmed = text.trim();
  let url: URL;
  try {
    url = new URL(/^[a-z][a-z0-9+.-]*:\/\//i.test(trimmed) ? trimmed : `https://${trimmed}`);
  } catch {
    throw new UserError(`“${trimmed.slice(0, 120)}” is not a web address. It should look like https://example.org/.`);
  }
  if (url.protocol !== 'https:' && url.protocol !== 'http:')
    throw new UserError(`Detto surveys http and https addresses, not ${url.protocol}//.`);
  if (url.username || url.password) throw new UserError('Leave the user name and password out of the address.');
  return url;
}

/** Only a fragment can hold the sign that begins it (URL Standard, 4.5). */
const withoutHash = ({ href }: URL): string => href.split('#', 1)[0]!;

const ACCEPT = { page: 'text/html,*/*;q=0.5', picture: 'image/*,*/*;q=0.5', sitemap: 'application/xml,*/*;q=0.5' };

/** The directives for everybody and for Detto in `X-Robots-Tag` (common practice of search engines). */
function directivesOf(header: string | string[] | undefined): string[] {
  const out: string[] = [];
  for (const value of [header ?? []].flat()) {
    const [, agent, rest] = /^\s*([\w-]+)\s*:\s*(.*)$/.exec(value) ?? [];
    const isNamed = agent !== undefined && !/^(?:max-|unavailable_after)/i.test(agent);
    if (isNamed && agent.toLowerCase() !== PRODUCT.toLowerCase()) continue;
    out.push(
      ...(isNamed ? rest! : value)
        .toLowerCase()
        .split(',')
        .map((d) => d.trim()),
    );
  }
  return out.filter(Boolean);
}
