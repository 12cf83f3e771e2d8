import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { gzipSync } from 'node:zlib';
import { strings } from '@/ui/strings';
import { parseAllowed } from '../net/allowed';
import { parseAddress, SiteSource } from './site-source';
import { Skipped, UNCHANGED } from './source';

let server: Server;
let origin = '';

beforeAll(async () => {
  server = createServer((request, response) => {
    const go = (to: string) => response.writeHead(302, { location: to }).end();
    switch (request.url) {
      case '/robots.txt':
        return response.end('User-agent: *\nDisallow: /secret');
      case '/self':
        return go('/self');
      case '/private':
        return go('http://10.0.0.1/');
      case '/elsewhere':
        return go('http://example.org/');
      case '/moved':
        return go('/page');
      case '/to-secret':
        return go('/secret/x');
      case '/page':
        response.writeHead(200, { 'content-type': 'text/html; charset=iso-8859-2', 'content-encoding': 'gzip' });
        return response.end(gzipSync('<p>hello'));
      case '/pdf':
        return response.writeHead(200, { 'content-type': 'application/pdf' }).end('%PDF');
      case '/big':
        return response.writeHead(200, { 'content-type': 'text/html' }).end('x'.repeat(6 * 1024 * 1024));
      case '/forever': {
        response.writeHead(200, { 'content-type': 'text/html' });
        const timer = setInterval(() => response.write('<p>more'), 20);
        response.on('close', () => clearInterval(timer));
        return;
      }
      case '/silent':
        return;
      case '/broken':
        return response.destroy();
      default:
        return response.writeHead(404).end();
    }
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  origin = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(() => {
  server.closeAllConnections();
  server.close();
});

async function reasonFor(path: string, allow = true): Promise<string> {
  const source = new SiteSource(origin, {
    allowed: allow ? [parseAllowed(new URL(origin).host)] : [],
    limits: { address: 1500, silence: 600 },
  });
  try {
    await source.page(new URL(path, origin).href);
    return 'read';
  } catch (error) {
    expect(error).toBeInstanceOf(Skipped);
    return strings.message((error as Skipped).reason);
  } finally {
    await source.close();
  }
}

test.each([
  ['/self', 'redirects to itself'],
  ['/elsewhere', 'on another host, example.org'],
  ['/private', 'on another host, 10.0.0.1'],
  ['/to-secret', 'blocked by robots.txt'],
  ['/secret', 'blocked by robots.txt'],
  ['/none', 'not found (404)'],
  ['/pdf', 'not a page but application/pdf'],
  ['/big', 'over the limit of 5 MB for a page'],
  ['/forever', 'not complete after 1.5 seconds'],
  ['/silent', 'silent for 0.6 seconds'],
  ['/broken', 'broke off the connection'],
])('%s: %s', async (path, reason) => expect(await reasonFor(path)).toContain(reason));

test('an address on this machine is refused unless it was allowed', async () => {
  expect(await reasonFor('/page', false)).toContain('this machine');
});

test('a picture that redirects to a private host is refused', async () => {
  const source = new SiteSource(origin, { allowed: [parseAllowed(new URL(origin).host)] });
  await expect(source.picture(`${origin}/private`)).rejects.toMatchObject({
    reason: { id: 'skip.refused', values: { reason: { id: 'refused.private', values: { address: '10.0.0.1' } } } },
  });
  await source.close();
});

test('a page is read through redirects and compression, with the charset of the transport', async () => {
  const source = new SiteSource(origin, { allowed: [parseAllowed(new URL(origin).host)] });
  const page = await source.page(`${origin}/moved`);
  if (page === UNCHANGED) throw new Error('nothing was known');
  expect([page.bytes.toString(), page.transport, page.address]).toEqual(['<p>hello', 'iso-8859-2', `${origin}/page`]);
  await source.close();
});

// WHATWG URL: percent-encoding, dot segments, default ports and host case are normalised by the parser.
test('addresses are made absolute by the URL standard, without their fragment', () => {
  const source = new SiteSource('http://EXAMPLE.org:80/a/b', { allowed: [] });
  const resolve = (ref: string) => source.resolve(ref, 'http://example.org/a/b', null);
  expect(resolve('../c d#x')).toBe('http://example.org/c%20d');
  expect(resolve('javascript:void 0')).toBeNull();
  expect(resolve('mailto:a@b')).toBeNull();
  expect(source.resolve('x', 'http://example.org/a/b', '/base/')).toBe('http://example.org/base/x');
});

test.each([
  ['example.org', 'https://example.org/'],
  ['http://example.org/x', 'http://example.org/x'],
])('%s is the address %s', (text, address) => expect(parseAddress(text).href).toBe(address));

test.each(['ftp://example.org', 'http://a:b@example.org', 'http://', 'not an address'])('%s is no address', (text) =>
  expect(() => parseAddress(text)).toThrow(),
);
