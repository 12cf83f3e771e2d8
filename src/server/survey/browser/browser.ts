import { readFile } from 'node:fs/promises';
import PQueue from 'p-queue';
import type { Browser, BrowserContext, CDPSession, Page } from 'playwright-core';
import { COMPUTED_STYLES, type DomSnapshot } from '@/core/formats/html/snapshot';
import type { Allowed } from '../../net/allowed';
import { Skipped, type FetchedPage } from '../source';
import { GuardedProxy } from './guarded-proxy';

export interface RenderedPage {
  snapshot: DomSnapshot;
  /** Where a script of the page wanted to lead its reader. */
  leadsTo: string | null;
}

export interface Renderer {
  /**
   * @param isDynamic whether it may change once it has been loaded, by scripts or as it is scrolled
   * @throws Skipped with the reason when the page could not be rendered
   */
  render(page: FetchedPage, isDynamic: boolean): Promise<RenderedPage>;
  close(): Promise<void>;
}

export interface BrowserLimits {
  /** Pages in the browser at a time. */
  pages: number;
  /** Milliseconds for a page as a whole, for what it loads, and for its scripts to come to rest. */
  page: number;
  load: number;
  rest: number;
  /** Of one page's process. */
  bytes: number;
}

export interface BrowserOptions {
  /** Null where there is no browser, and every page says so. */
  executable: string | null;
  allowed: readonly Allowed[];
  userAgent: string;
  /** Headers that one origin alone is sent with every request. */
  access?: { origin: string; headers: Record<string, string> };
  limits?: Partial<BrowserLimits>;
}

const LIMITS: BrowserLimits = { pages: 3, page: 30_000, load: 15_000, rest: 4000, bytes: 1024 * 1024 * 1024 };
const WINDOW = { width: 1280, height: 800 };
/** Milliseconds without a request after which a page with scripts is at rest. */
const QUIET = 120;
const MOST_NODES = 300_000;
/** Of the height of a page that is scrolled through. */
const MOST_PIXELS = 20_000;
/** After so many pages a tab is renewed, so that what they leave behind does not grow. */
const PAGES_PER_TAB = 100;
export const FLAGS = [
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--webrtc-ip-handling-policy=disable_non_proxied_udp',
  '--js-flags=--max-old-space-size=512',
];

interface Paused {
  requestId: string;
  frameId: string;
  resourceType: string;
  request: { url: string; method: string; headers: Record<string, string> };
}

interface Tab {
  page: Page;
  session: CDPSession;
  /** While they are watched: those under way, and how many were begun in all. */
  requests: { open: Set<string>; begun: number };
  used: number;
  /** The page that is shown, and where its scripts want to go from there. */
  showing: FetchedPage | null;
  leadsTo: string | null;
  fail(error: Error): void;
}

/**
 * Has a page load without telling of each thing it loads: that takes a third of the time of pages with many pictures, and
 * Playwright, which has no switch for it, asks for it always. So this reaches into Playwright, whose version is pinned.
 */
export async function loadQuietly(page: Page): Promise<void> {
  const { _connection } = page as unknown as { _connection: { toImpl(page: Page): PlaywrightPage } };
  await _connection.toImpl(page).delegate._mainFrameSession._client.send('Network.disable');
}
interface PlaywrightPage {
  delegate: { _mainFrameSession: { _client: { send(method: string): Promise<unknown> } } };
}

/** Counts what a page loads, until it is reported to stop. */
async function watchRequests({ session, requests }: Tab): Promise<() => Promise<void>> {
  const begin = ({ requestId }: { requestId: string }) => {
    requests.begun++;
    requests.open.add(requestId);
  };
  const end = ({ requestId }: { requestId: string }) => void requests.open.delete(requestId);
  requests.open.clear();
  session.on('Network.requestWillBeSent', begin).on('Network.loadingFinished', end).on('Network.loadingFailed', end);
  await session.send('Network.enable');
  return async () => {
    await session.send('Network.disable');
    session.off('Network.requestWillBeSent', begin);
    session.off('Network.loadingFinished', end).off('Network.loadingFailed', end);
  };
}

/** Pages as the system's Chromium shows them, all of its traffic through the guard. */
export class BrowserRenderer implements Renderer {
  private readonly queue: PQueue;
  private readonly idle: Tab[] = [];
  private readonly limits: BrowserLimits;
  private readonly proxy: GuardedProxy;
  private browser: Promise<Browser> | null = null;
  private listening: Promise<string> | null = null;
  private context: Promise<BrowserContext> | null = null;
  /** Looks for pages that take too much memory, as long as there is a browser. */
  private watch: NodeJS.Timeout | undefined;
  private closed = false;

  constructor(private readonly options: BrowserOptions) {
    this.limits = { ...LIMITS, ...options.limits };
    this.queue = new PQueue({ concurrency: this.limits.pages });
    this.proxy = new GuardedProxy(options.allowed);
  }

  render(page: FetchedPage, isDynamic: boolean): Promise<RenderedPage> {
    return this.queue.add(async () => {
      if (!this.options.executable) throw new Skipped({ id: 'skip.no-browser' });
      const first = this.browser;
      try {
        return await this.attempt(page, isDynamic);
      } catch (error) {
        if (error instanceof Skipped) throw error;
        // Another page took the browser down with it: that is not this page's fault.
        const again = first !== null && first !== this.browser;
        const shown = again ? this.attempt(page, isDynamic) : Promise.reject(error as Error);
        return await shown.catch((reason: unknown) => {
          throw reason instanceof Skipped
            ? reason
            : new Skipped({ id: 'skip.not-shown', values: { detail: firstLine(reason) } });
        });
      }
    });
  }

  private async attempt(page: FetchedPage, isDynamic: boolean): Promise<RenderedPage> {
    if (this.closed) throw new Skipped({ id: 'skip.stopped' });
    let tab: Tab;
    try {
      tab = this.idle.pop() ?? (await this.newTab());
    } catch (error) {
      const unboxed = /sandbox/i.test(String(error));
      throw new Skipped(
        unboxed ? { id: 'skip.no-sandbox' } : { id: 'skip.browser-not-started', values: { detail: firstLine(error) } },
      );
    }
    let healthy = false;
    try {
      const rendered = await this.within(tab, page, isDynamic);
      healthy = ++tab.used < PAGES_PER_TAB;
      return rendered;
    } finally {
      if (healthy) this.idle.push(tab);
      else await this.drop(tab);
    }
  }

  async close(): Promise<void> {
    this.closed = true;
    clearInterval(this.watch);
    const browser = await this.browser?.catch(() => null);
    await browser?.close().catch(() => undefined);
    if (this.listening) await this.proxy.close();
  }

  /** Shows a page, or gives up: a script that never ends, a page without end, a process that ran out of memory. */
  private async within(tab: Tab, page: FetchedPage, isDynamic: boolean): Promise<RenderedPage> {
    const seconds = this.limits.page / 1000;
    let timer: NodeJS.Timeout | undefined;
    const given = new Promise<never>((_, reject) => {
      tab.fail = reject;
      timer = setTimeout(() => reject(new Skipped({ id: 'skip.browser-slow', values: { seconds } })), this.limits.page);
    });
    try {
      return await Promise.race([this.show(tab, page, isDynamic), given]);
    } finally {
      clearTimeout(timer);
      tab.fail = () => undefined;
    }
  }

  private async show(tab: Tab, fetched: FetchedPage, isDynamic: boolean): Promise<RenderedPage> {
    const { page, session } = tab;
    tab.showing = fetched;
    tab.leadsTo = null;
    const { requests } = tab;
    const begunBefore = requests.begun;
    const unwatch = isDynamic ? await watchRequests(tab) : null;
    await page.goto(fetched.address, { waitUntil: 'load', timeout: this.limits.load }).catch((error: Error) => {
      // What has come until now is what a patient reader would see; and a script that wanted to lead away did not.
      if (error.name !== 'TimeoutError' && tab.leadsTo === null) throw error;
    });
    if (isDynamic) {
      await this.rest(tab, begunBefore);
      const begun = requests.begun;
      await this.scrollThrough(page);
      if (requests.begun > begun) await this.rest(tab, begun);
    }
    await unwatch?.();
    const [taken] = await Promise.all([
      session.send('DOMSnapshot.captureSnapshot', { computedStyles: [...COMPUTED_STYLES] }),
      page.context().clearCookies(),
    ]);
    const snapshot = taken as unknown as DomSnapshot;
    if ((snapshot.documents[0]?.nodes.nodeType?.length ?? 0) > MOST_NODES)
      throw new Skipped({ id: 'skip.many-nodes', values: { limit: MOST_NODES } });
    // Frames are pages of their own.
    return { snapshot: { documents: snapshot.documents.slice(0, 1), strings: snapshot.strings }, leadsTo: tab.leadsTo };
  }

  /**
   * As a reader who scrolls down and up again: what waits to come into sight comes. The window is made as high as the page
   * meanwhile, so that all of it is in sight at once, however long it is.
   */
  private async scrollThrough(page: Page): Promise<void> {
    const height = await page.evaluate(() => document.documentElement.scrollHeight);
    const high = height > WINDOW.height;
    if (high) await page.setViewportSize({ ...WINDOW, height: Math.min(height, MOST_PIXELS) });
    await page.evaluate(async () => {
      const frames = () => new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(resolve)));
      scrollTo({ top: document.documentElement.scrollHeight, behavior: 'instant' });
      dispatchEvent(new Event('scroll'));
      await frames();
      scrollTo({ top: 0, behavior: 'instant' });
      await frames();
    });
    if (high) await page.setViewportSize(WINDOW);
  }

  /** Waits until nothing is being loaded for a moment; for a while at most. */
  private async rest({ requests }: Tab, begun: number): Promise<void> {
    const end = Date.now() + this.limits.rest;
    let seen = begun;
    let quietSince = Date.now();
    while (Date.now() < end) {
      if (requests.open.size > 0 || requests.begun !== seen) quietSince = Date.now();
      seen = requests.begun;
      if (Date.now() - quietSince >= QUIET) return;
      await new Promise((resolve) => setTimeout(resolve, 20));
    }
  }

  private async newTab(): Promise<Tab> {
    const context = await (this.context ??= this.newContext());
    const page = await context.newPage();
    const session = await context.newCDPSession(page);
    await loadQuietly(page);
    const tab: Tab = {
      page,
      session,
      requests: { open: new Set(), begun: 0 },
      used: 0,
      showing: null,
      leadsTo: null,
      fail: () => undefined,
    };
    page.on('dialog', (d) => void (d.type() === 'beforeunload' ? d.accept() : d.dismiss()).catch(() => undefined));
    page.on('crash', () => tab.fail(new Skipped({ id: 'skip.browser-memory' })));
    const { frameTree } = await session.send('Page.getFrameTree');
    session.on('Fetch.requestPaused', (paused) => {
      void this.answerDocument(tab, paused, frameTree.frame.id).catch(() => undefined);
    });
    const { access } = this.options;
    const guarded = access && Object.keys(access.headers).length > 0 ? [{ urlPattern: `${access.origin}/*` }] : [];
    await session.send('Fetch.enable', { patterns: [{ resourceType: 'Document' }, ...guarded] });
    return tab;
  }

  /**
   * The page itself is the one that was fetched, robots.txt and all; it is not asked for a second time. Its scripts
   * may not lead away from it.
   */
  private async answerDocument(
    tab: Tab,
    { requestId, frameId, resourceType, request }: Paused,
    mainFrame: string,
  ): Promise<void> {
    if (frameId !== mainFrame || resourceType !== 'Document') {
      const { access } = this.options;
      const own = access && new URL(request.url).origin === access.origin ? access.headers : {};
      const headers = Object.entries({ ...request.headers, ...own }).map(([name, value]) => ({ name, value }));
      return void (await tab.session.send('Fetch.continueRequest', { requestId, headers }));
    }
    const { showing } = tab;
    if (!showing || request.url !== showing.address || request.method !== 'GET') {
      if (showing && request.method === 'GET') tab.leadsTo ??= request.url;
      return void (await tab.session.send('Fetch.failRequest', { requestId, errorReason: 'Aborted' }));
    }
    const type = showing.transport ? `text/html; charset=${showing.transport}` : 'text/html';
    await tab.session.send('Fetch.fulfillRequest', {
      requestId,
      responseCode: 200,
      responseHeaders: [{ name: 'content-type', value: type }],
      body: showing.bytes.toString('base64'),
    });
  }

  /** All tabs are of one window: windows of their own would all be painted, which costs twice the time. */
  private async newContext(): Promise<BrowserContext> {
    const browser = await (this.browser ??= this.launch());
    browser.on('disconnected', () => this.forget());
    clearInterval(this.watch);
    // A browser that closes meanwhile has nothing left to end.
    this.watch = setInterval(() => void this.endHungry().catch(() => undefined), 1000).unref();
    const session = await browser.newBrowserCDPSession();
    const { userAgent } = await session.send('Browser.getVersion');
    await session.detach();
    const context = await browser.newContext({
      viewport: WINDOW,
      userAgent: `${userAgent.replace('HeadlessChrome', 'Chrome')} ${this.options.userAgent}`,
      acceptDownloads: false,
      serviceWorkers: 'block',
    });
    // Windows that a page opens are not wanted.
    context.on('page', (page) => {
      void page.opener().then((opener) => opener && page.close().catch(() => undefined));
    });
    return context;
  }

  private async launch(): Promise<Browser> {
    const server = await (this.listening ??= this.proxy.listen());
    // It takes half a second to load, which who needs no browser does not wait for.
    const { chromium } = await import('playwright-core');
    return chromium.launch({
      executablePath: this.options.executable!,
      args: FLAGS,
      // Chromium does not start with its sandbox for the superuser.
      chromiumSandbox: process.getuid?.() !== 0,
      proxy: { server, bypass: '<-loopback>' },
      handleSIGINT: false,
      handleSIGTERM: false,
      handleSIGHUP: false,
    });
  }

  /** Ends the processes of pages that are over the limit of memory; the page says so as it fails. */
  private async endHungry(): Promise<void> {
    const browser = await this.browser?.catch(() => null);
    if (!browser?.isConnected()) return;
    const session = await browser.newBrowserCDPSession();
    const { processInfo } = await session.send('SystemInfo.getProcessInfo');
    await session.detach();
    for (const { type, id } of processInfo) {
      if (type !== 'renderer') continue;
      const pages = await readFile(`/proc/${id}/statm`, 'utf8').then(
        (line) => Number(line.split(' ')[1]),
        () => 0,
      );
      if (pages * 4096 > this.limits.bytes) process.kill(id, 'SIGKILL');
    }
  }

  /** A tab whose page is stuck does not close by itself; then the whole browser starts again. */
  private async drop(tab: Tab): Promise<void> {
    const closed = tab.page.close().then(
      () => true,
      () => true,
    );
    const late = new Promise<false>((resolve) => setTimeout(() => resolve(false), 3000).unref());
    if (await Promise.race([closed, late])) return;
    const browser = this.browser;
    this.forget();
    await (await browser)?.close().catch(() => undefined);
  }

  /** The next page begins with a browser of its own. */
  private forget(): void {
    clearInterval(this.watch);
    this.browser = null;
    this.context = null;
    this.idle.length = 0;
  }
}

const firstLine = (error: unknown) => (error instanceof Error ? error.message : String(error)).split('\n')[0]!;
