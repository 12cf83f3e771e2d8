import { strings } from '@/ui/strings';
import type { Scope } from '@/contract/scope';
import { gzipSync } from 'node:zlib';
import { ReaderPool } from '../workers/reader-pool';
import { DOT, TestSite, type Handler } from '../testing/site';
import { SurveyRun } from './survey-run';
import { parseAllowed } from '../net/allowed';
import { MemoryLimits } from '../limits/memory-limits';
import { HostGate, retryAfter } from './host-gate';
import { MemoryStore } from './memory-store';
import { Robots } from './robots';
import { SiteSource } from './site-source';

/** How far a survey of a site goes, what it leaves aside and why, and how it behaves there. */
let site: TestSite;
let readers: ReaderPool;
let handler: Handler = () => undefined;

beforeAll(async () => {
  site = await TestSite.open((request) => handler(request));
  readers = new ReaderPool(1);
});
afterAll(async () => {
  readers.close();
  await site.close();
});
beforeEach(() => site.asked.splice(0));

const page = (inner: string, headers = {}) => ({ headers, body: `<html lang="en"><title>T</title>${inner}` });
const link = (path: string, rel = '') => `<a href="${path}"${rel && ` rel="${rel}"`}>x</a>`;

/** Pages by path; a path that is not there is not found. */
function serve(pages: Record<string, ReturnType<Handler> | string>): void {
  handler = ({ url }) => {
    if (url === '/dot.gif') return { headers: { 'content-type': 'image/gif' }, body: DOT };
    const answer = pages[url ?? ''];
    return typeof answer === 'string' ? page(answer) : answer;
  };
}

const sourceAt = (start: string, scope: Partial<Scope> = {}) =>
  new SiteSource(site.origin + start, { allowed: [parseAllowed(site.host)], scope, limits: { firstWait: 20 } });

async function surveyed(scope: Partial<Scope> = {}, start = '/', maxPages = 100, maxDepth = 5): Promise<MemoryStore> {
  const source = sourceAt(start, scope);
  const store = new MemoryStore(maxPages);
  await new SurveyRun(source, store, readers, { maxDepth, concurrency: 2 }).gather();
  await source.close();
  return store;
}

async function survey(...asked: Parameters<typeof surveyed>) {
  const store = await surveyed(...asked);
  const path = (address: string) => address.replace(site.origin, '');
  return {
    read: store.pages.map((p) => path(p.address)).sort(),
    skipped: Object.fromEntries(store.skipped.map((s) => [path(s.address), path(strings.message(s.reason))])),
  };
}

test('sitemaps of robots.txt are read, through an index and gzip; only pages of the survey are taken', async () => {
  serve({
    '/robots.txt': { headers: { 'content-type': 'text/plain' }, body: `Sitemap: ${site.origin}/index.xml` },
    '/index.xml': { body: `<sitemapindex><sitemap><loc>${site.origin}/one.xml.gz</loc></sitemap></sitemapindex>` },
    '/one.xml.gz': {
      headers: { 'content-type': 'application/gzip' },
      body: gzipSync(
        `<urlset><url><loc>${site.origin}/island</loc></url><url><loc>https://example.org/</loc></url></urlset>`,
      ),
    },
    '/': 'no links',
    '/island': 'only in the sitemap',
  });
  expect((await survey()).read).toEqual(['/', '/island']);
  expect((await survey({ sitemaps: false })).read).toEqual(['/']);
});

test('a sitemap that was named and is not there is reported', async () => {
  serve({ '/robots.txt': { body: 'Sitemap: /none.xml' }, '/': 'start' });
  expect((await survey()).skipped).toEqual({ '/none.xml': 'not found (404)' });
});

test('bounds: a path, patterns, depth and a number of pages', async () => {
  serve({
    '/en/': link('/en/a') + link('/de/') + link('/en/print/a') + link('/en/b?sort=up'),
    '/en/a': link('/en/deep'),
    '/en/deep': link('/en/deeper'),
    '/en/b?sort=up': 'b',
  });
  const bounded = await survey({ prefix: '/en/', exclude: ['/*/print/', '/*?sort='] }, '/en/', 100, 2);
  expect(bounded.read).toEqual(['/en/', '/en/a', '/en/deep']);
  expect(bounded.skipped).toEqual({
    '/de/': 'not under /en/',
    '/en/print/a': 'excluded by a pattern',
    '/en/b?sort=up': 'excluded by a pattern',
    '/en/deeper': 'more than 2 links away from the start',
  });
  expect((await survey({ include: ['/en/$', '/en/a$'] }, '/en/')).read).toEqual(['/en/', '/en/a']);
  expect(Object.values((await survey({}, '/en/', 2)).skipped)).toContain('over the limit of 2 pages');
});

test('a list of addresses, or one page, is read and nothing beyond', async () => {
  serve({ '/a': link('/c'), '/b': 'b', '/c': 'c' });
  const list = await survey({ addresses: [`${site.origin}/b`], follow: false }, '/a');
  expect(list).toEqual({ read: ['/a', '/b'], skipped: {} });
});

test('one page under several addresses is counted once: the same bytes, or one canonical address', async () => {
  const canonical = `<link rel="canonical" href="/boat"><img src="dot.gif" alt="Boat">`;
  serve({
    '/': link('/copy') + link('/boat?from=mail'),
    '/copy': link('/copy') + link('/boat?from=mail'),
    '/boat': `${canonical}12:00`,
    '/boat?from=mail': `${canonical}12:01`,
  });
  const { read, skipped } = await survey();
  expect(read).toHaveLength(2);
  expect(skipped['/copy']).toBe('the same page as /');
  expect(Object.values(skipped)).toContain(
    read.includes('/boat') ? 'the same page as /boat' : 'the same page as /boat?from=mail',
  );
});

test('nofollow is obeyed in links, meta elements and headers, unless the site is the editor’s own', async () => {
  serve({
    '/': link('/a', 'nofollow') + link('/b') + link('/c'),
    '/a': 'a',
    '/b': `<meta name="robots" content="noindex, nofollow">${link('/b2')}`,
    '/c': page(link('/c2'), { 'x-robots-tag': ['otherbot: noindex', 'nofollow'] }),
    '/b2': 'b2',
    '/c2': 'c2',
  });
  expect((await survey()).read).toEqual(['/', '/b', '/c']);
  expect((await survey({ obeyRobots: false })).read).toEqual(['/', '/a', '/b', '/b2', '/c', '/c2']);
});

test('what robots.txt blocks is reported, and read when the site is the editor’s own', async () => {
  serve({ '/robots.txt': { body: 'User-agent: *\nDisallow: /in' }, '/': link('/in'), '/in': 'in' });
  expect(await survey()).toEqual({ read: ['/'], skipped: { '/in': 'blocked by robots.txt' } });
  expect((await survey({ obeyRobots: false })).read).toEqual(['/', '/in']);
});

test('a host that is too busy is asked again, and given up after three times', async () => {
  let busy = 2;
  serve({ '/': 'start' });
  const calm = handler;
  handler = (request) => (request.url === '/' && busy-- > 0 ? { status: 503 } : calm(request));
  expect((await survey()).read).toEqual(['/']);
  busy = 100;
  expect((await survey()).skipped).toEqual({ '/': 'the server answered 503' });
  expect(site.asked.filter((url) => url === '/').length).toBe(3 + 4);
});

// RFC 9110, 10.2.3: seconds, or a date.
test('Retry-After is read in both its forms', () => {
  expect(retryAfter('120', 0)).toBe(120_000);
  expect(retryAfter('Fri, 31 Dec 1999 23:59:59 GMT', Date.UTC(1999, 11, 31, 23, 59, 0))).toBe(59_000);
  expect(retryAfter('soon', 0)).toBeNull();
});

test('requests to one host are spaced as it asks, those to others are not', async () => {
  let now = 0;
  const gate = new HostGate(0, new MemoryLimits(() => now));
  const stop = new AbortController();
  gate.space('slow', 0.05);
  await gate.turn('slow');
  await gate.turn('quick');
  let served = false;
  const second = gate.turn('slow').then(() => (served = true));
  await new Promise((resolve) => setTimeout(resolve, 10));
  expect(served).toBe(false);
  now = 50;
  await second;
  await gate.pause('slow', 60_000);
  const third = gate.turn('slow', stop.signal);
  stop.abort(new Error('stopped'));
  await expect(third).rejects.toThrow('stopped');
});

test('crawl-delay and sitemaps of robots.txt', () => {
  const robots = new Robots('Sitemap: https://e.org/s.xml\nUser-agent: *\nCrawl-delay: 1.5\nDisallow: /x', 'DettoBot');
  expect([robots.crawlDelay, robots.sitemaps, robots.allows('/x')]).toEqual([1.5, ['https://e.org/s.xml'], false]);
});

test('backgrounds of style sheets that a page imports are found, each sheet asked for once, rings or not', async () => {
  const css = (body: string) => ({ headers: { 'content-type': 'text/css' }, body });
  serve({
    '/': '<link rel="stylesheet" href="/css/a.css"><style>@import "/css/own.css";</style><p class="x">x</p><p class="y">y</p><a href="/b">b</a>',
    '/b': '<link rel="stylesheet" href="/css/b.css"><p class="x">x</p><p class="z">z</p>',
    '/css/a.css': css('@import "b.css"; .y { background: url(../y.gif) }'),
    '/css/b.css': css('@import url(a.css); .x { background: url(x.gif) }'),
    '/css/own.css': css('.y { background-image: url(/own.gif) }'),
  });
  const { pages } = await surveyed();
  const shown = pages.map((p) => [
    new URL(p.address).pathname,
    p.pictureOf.map((address) => address && new URL(address).pathname).sort(),
  ]);
  expect(Object.fromEntries(shown)).toEqual({ '/': ['/css/x.gif', '/own.gif'], '/b': ['/css/x.gif'] });
  for (const sheet of ['a', 'b', 'own'])
    expect(site.asked.filter((url) => url === `/css/${sheet}.css`)).toHaveLength(1);
});

describe('a survey that is taken up again', () => {
  class Loading extends MemoryStore {
    constructor(override readonly loaded: Promise<void>) {
      super(100);
    }
  }
  const waits = (store: MemoryStore) =>
    store.enqueue([{ address: `${site.origin}/waited`, depth: 1, foundOn: `${site.origin}/` }]);

  test('asks for the pages that wait while the rest still loads, and keeps nothing until it has', async () => {
    serve({ '/': link('/waited'), '/waited': link('/next'), '/next': 'end' });
    let load = () => {};
    const store = new Loading(new Promise((resolve) => (load = resolve)));
    await waits(store);
    const source = sourceAt('/');
    const over = new SurveyRun(source, store, readers, { maxDepth: 5, concurrency: 2 }).gather();
    while (!site.asked.includes('/waited')) await new Promise((resolve) => setTimeout(resolve, 5));
    await new Promise((resolve) => setTimeout(resolve, 100));
    expect([store.pages, store.skipped]).toEqual([[], []]);
    expect(site.asked).not.toContain('/next');
    load();
    await over;
    await source.close();
    expect(store.pages.map((p) => p.address.replace(site.origin, '')).sort()).toEqual(['/', '/next', '/waited']);
  });

  test('fails when what an earlier run left cannot be loaded', async () => {
    serve({ '/': link('/waited'), '/waited': 'end' });
    const gone = Promise.reject(new Error('The disk is gone.'));
    gone.catch(() => undefined);
    const store = new Loading(gone);
    await waits(store);
    const source = sourceAt('/');
    await expect(new SurveyRun(source, store, readers, { maxDepth: 5, concurrency: 2 }).gather()).rejects.toThrow(
      'The disk is gone.',
    );
    await source.close();
    expect(store.pages).toEqual([]);
  });
});

// RFC 9309, 2.5: at least 500 KiB are parsed; the rest of a longer file may be left.
test('of a robots.txt over 500 KiB the beginning counts', async () => {
  const rules = `User-agent: *\nDisallow: /secret\n${'# filler\n'.repeat(80_000)}Disallow: /open\n`;
  serve({ '/robots.txt': { body: rules }, '/': link('/secret') + link('/open'), '/secret': 'x', '/open': 'x' });
  const store = await surveyed();
  expect(store.pages.map((p) => new URL(p.address).pathname).sort()).toEqual(['/', '/open']);
});

test('a robots.txt that leads to a private host is reported as the reason', async () => {
  serve({ '/robots.txt': { status: 302, headers: { location: 'http://10.0.0.1/robots.txt' } }, '/': 'x' });
  const store = await surveyed();
  expect(store.pages).toEqual([]);
  expect(strings.message(store.skipped[0]!.reason)).toMatch(
    /^robots\.txt redirects to http:\/\/10\.0\.0\.1\/robots\.txt, which could not be read: 10\.0\.0\.1 is at/,
  );
});

test.each([
  ['no gzip', { headers: { 'content-type': 'text/html', 'content-encoding': 'gzip' }, body: 'no gzip' }],
  ['no brotli', { headers: { 'content-type': 'text/html', 'content-encoding': 'br' }, body: 'no brotli, at all' }],
])('an answer that is %s is reported in words of Detto’s own', async (_, answer) => {
  serve({ '/': link('/bad'), '/bad': answer });
  const store = await surveyed();
  expect(store.skipped.map((s) => strings.message(s.reason))).toEqual([
    'the server’s answer is damaged (it cannot be decompressed)',
  ]);
});
