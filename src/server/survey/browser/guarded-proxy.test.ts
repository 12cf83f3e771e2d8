import http from 'node:http';
import net from 'node:net';
import { TestSite } from '../../testing/site';
import { parseAllowed } from '../../net/allowed';
import { GuardedProxy } from './guarded-proxy';

/** The browser's only way out lets through what the guard lets through. */
let site: TestSite;
let proxy: GuardedProxy;
let at: URL;

beforeAll(async () => {
  site = await TestSite.open(({ url, headers }) => ({
    headers: { 'x-told': headers['proxy-authorization'] ? 'yes' : 'no', 'content-type': 'text/plain' },
    body: /large=\d+/.test(url!) ? Buffer.alloc(Number(url!.split('=')[1]) * 1024 * 1024) : `page ${url}`,
  }));
  proxy = new GuardedProxy([parseAllowed(site.host)]);
  at = new URL(await proxy.listen());
});
afterAll(async () => {
  await proxy.close();
  await site.close();
});

function asked(
  path: string,
  headers = {},
): Promise<{ status: number; body: string; headers: http.IncomingHttpHeaders }> {
  return new Promise((resolve, reject) => {
    const request = http.request({ host: at.hostname, port: at.port, path, headers }, (response) => {
      let body = '';
      response.on('data', (part) => (body += String(part)));
      response.on('end', () => resolve({ status: response.statusCode!, body, headers: response.headers }));
    });
    request.on('error', reject).end();
  });
}

/** The first line of the answer to CONNECT. */
function tunnelled(target: string, then = ''): Promise<string> {
  return new Promise((resolve) => {
    const socket = net.connect(Number(at.port), at.hostname, () => socket.write(`CONNECT ${target} HTTP/1.1\r\n\r\n`));
    let answer = '';
    socket.on('data', (part) => {
      answer += part.toString('latin1');
      if (then && answer.endsWith('\r\n\r\n') && !answer.includes('page')) socket.write(then);
      else if (!then || answer.includes('page')) socket.end();
    });
    socket.on('close', () => resolve(answer));
  });
}

test('allowed hosts are reached, without the headers of the hop', async () => {
  const answer = await asked(`${site.origin}/quay`, { 'proxy-authorization': 'x' });
  expect(answer).toMatchObject({ status: 200, body: 'page /quay' });
  expect(answer.headers['x-told']).toBe('no');
});

test('large answers pass whole, endless ones are cut off', async () => {
  const received = (path: string) =>
    new Promise<number>((resolve) => {
      let size = 0;
      const request = http.request({ host: at.hostname, port: at.port, path }, (response) => {
        response.on('data', (part: Buffer) => (size += part.length));
        response.on('close', () => resolve(size)).on('error', () => undefined);
      });
      request.end();
    });
  expect(await received(`${site.origin}/?large=20`)).toBe(20 * 1024 * 1024);
  const cut = await received(`${site.origin}/?large=120`);
  expect(cut).toBeGreaterThan(50 * 1024 * 1024);
  expect(cut).toBeLessThanOrEqual(100 * 1024 * 1024);
});

// The ranges of RFC 6890, the metadata address of cloud machines (common practice), and another port of this machine.
test.each([
  'http://127.0.0.1:1/',
  'http://169.254.169.254/latest/',
  'http://10.0.0.1/',
  'http://[::1]/',
  'http://localhost:1/',
])('%s is refused', async (address) => expect((await asked(address)).status).toBe(502));

test('a page that asks the port itself gets nothing', async () => {
  expect((await asked('/quay')).status).toBe(400);
  expect((await asked('ftp://skerry.example/')).status).toBe(400);
});

test('tunnels go where the guard lets them', async () => {
  expect(await tunnelled('169.254.169.254:443')).toMatch(/^HTTP\/1\.1 502/);
  expect(await tunnelled('127.0.0.1:1')).toMatch(/^HTTP\/1\.1 502/);
  expect(await tunnelled('nowhere')).toMatch(/^HTTP\/1\.1 400/);
  const through = await tunnelled(site.host, 'GET /tunnel HTTP/1.1\r\nHost: x\r\nConnection: close\r\n\r\n');
  expect(through).toContain('200 Connection Established');
  expect(through).toContain('page /tunnel');
});
