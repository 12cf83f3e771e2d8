import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

process.env['DETTO_DATA'] = mkdtempSync(path.join(tmpdir(), 'detto-sessions-'));

process.env['DETTO_HOST'] = '0.0.0.0';
process.env['DETTO_HOSTS'] = 'detto.example, Alt.example';
process.env['DETTO_TOKEN'] = 'a token of some length';
const { refusedRequest } = await import('./own-request');
const { signIn, signOut } = await import('./session');
const { peerOf } = await import('./tries');

const TOKEN = { authorization: 'Bearer a token of some length' };
const headers = (given: Record<string, string>) => new Headers({ ...TOKEN, ...given });
const refused = (method: string, given: Headers, path = '/') => refusedRequest(method, given, path)?.message ?? null;

test.each(['127.0.0.1:4800', 'localhost:4800', '[::1]:4800', '127.0.0.1', 'detto.example', 'ALT.example:8080'])(
  'answers as %s',
  (host) => expect(refused('GET', headers({ host }))).toBeNull(),
);

// DNS rebinding: a page elsewhere points its own name at this machine.
test.each(['evil.example', 'evil.example:4800', '127.0.0.1.evil.example', '0.0.0.0:4800', 'xdetto.example', ''])(
  'does not answer as “%s”',
  (host) => expect(refused('GET', headers(host ? { host } : {}))).toContain('does not answer'),
);

// Fetch Standard, 3.1: a browser sends `Origin` with every request that changes something. Fetch Metadata Request
// Headers, 2.1: `same-site` is another host or port below the same domain.
test.each([
  ['its own page', { origin: 'http://127.0.0.1:4800' }, null],
  [
    'its own page, over TLS that ends before it',
    { origin: 'https://127.0.0.1:4800', 'x-forwarded-proto': 'https' },
    null,
  ],
  ['a page over TLS, where Detto speaks none', { origin: 'https://127.0.0.1:4800' }, 'another site'],
  ['another port of this machine', { origin: 'http://127.0.0.1:5000' }, 'another site'],
  ['a page elsewhere', { origin: 'https://evil.example' }, 'another site'],
  ['a page without an origin', { origin: 'null' }, 'another site'],
  ['a program', {}, null],
  ['its own page, without an origin', { 'sec-fetch-site': 'same-origin' }, null],
  ['a page elsewhere that hides its origin', { 'sec-fetch-site': 'cross-site' }, 'another site'],
  ['a page of the same site that hides its origin', { 'sec-fetch-site': 'same-site' }, 'another site'],
])('a change asked for by %s', (_, more, wanted) => {
  const answer = refused('POST', headers({ host: '127.0.0.1:4800', ...(more as Record<string, string>) }));
  if (wanted === null) expect(answer).toBeNull();
  else expect(answer).toContain(wanted);
});

test('links to pages are followed from elsewhere; data and pictures are not given there', () => {
  const elsewhere = headers({ host: 'localhost:4800', 'sec-fetch-site': 'cross-site' });
  expect(refused('GET', elsewhere, '/c/skerry/brief')).toBeNull();
  expect(refused('GET', elsewhere, '/api/collections')).toContain('another site');
  expect(refused('GET', elsewhere, '/found/skerry/1')).toContain('another site');
  expect(refused('GET', headers({ host: 'localhost:4800', 'sec-fetch-site': 'none' }), '/api/collections')).toBeNull();
});

test('nobody comes in without the token or the cookie that it gives', () => {
  const host = { host: 'detto.example' };
  const coming = (given: Record<string, string>) => refusedRequest('GET', new Headers({ ...host, ...given }), '/');
  expect(coming({})).toMatchObject({ status: 401 });
  expect(coming({ authorization: 'Bearer wrong' })).toMatchObject({ status: 401 });
  expect(coming({ cookie: 'detto_session=a token of some length' })).toMatchObject({ status: 401 });
  expect(coming(TOKEN)).toBeNull();
  expect(refusedRequest('GET', new Headers(host), '/sign-in')).toBeNull();
  const answer = signIn('a token of some length', false, Date.now());
  if (typeof answer === 'string') throw new Error(answer);
  expect(answer.cookie).toMatch(/; HttpOnly; SameSite=Strict$/);
  expect(answer.cookie).not.toContain('a token');
  expect(coming({ cookie: `other=1; ${answer.cookie.split(';')[0]!}` })).toBeNull();
  expect(refusedRequest('POST', new Headers({ ...host, origin: 'http://evil.example' }), '/api/session')).toMatchObject(
    {
      status: 421,
    },
  );
});

test('ten wrong tries a minute from one address, then even the right token waits there, and nowhere else', () => {
  for (let i = 0; i < 10; i++) expect(signIn(`wrong ${i}`, false, 1000 + i, '192.0.2.1')).toBe('wrong');
  expect(signIn('a token of some length', false, 2000, '192.0.2.1')).toBe('wait');
  expect(signIn('a token of some length', false, 2000, '192.0.2.2')).toMatchObject({ cookie: expect.any(String) });
  expect(signIn('a token of some length', true, 61_500, '192.0.2.1')).toMatchObject({
    cookie: expect.stringContaining('; Secure'),
  });
});

test('wrong bearer tokens are tries too; the addresses of one IPv6 network count as one', () => {
  const from = (peer: string, token: string) =>
    refusedRequest('GET', headers({ host: '127.0.0.1', 'x-detto-peer': peer, authorization: `Bearer ${token}` }), '/');
  for (let i = 0; i < 10; i++) expect(from(`2001:db8:0:1::${i + 1}`, `wrong ${i}`)).toMatchObject({ status: 401 });
  expect(from('2001:db8:0:1:ffff::1', 'a token of some length')).toMatchObject({ status: 429 });
  expect(from('2001:db8:0:2::1', 'a token of some length')).toBeNull();
});

test('each sign-in has a session of its own, which ends when it is signed out, or after a week', () => {
  const asCookie = (answer: ReturnType<typeof signIn>) => (answer as { cookie: string }).cookie.split(';')[0]!;
  const coming = (cookie: string) => refusedRequest('GET', new Headers({ host: 'detto.example', cookie }), '/');
  const [one, other] = [0, 1].map(() => asCookie(signIn('a token of some length', false, Date.now(), '192.0.2.9')));
  expect(one).not.toBe(other);
  expect(signOut(new Headers({ cookie: one! }), false)).toContain('Max-Age=0');
  expect(coming(one!)).toMatchObject({ status: 401 });
  expect(coming(other!)).toBeNull();
  // Also after a restart, since it is written down.
  delete (globalThis as { dettoSignedOut?: unknown }).dettoSignedOut;
  expect(coming(one!)).toMatchObject({ status: 401 });
  const eightDaysAgo = Date.now() - 8 * 86_400_000;
  expect(coming(asCookie(signIn('a token of some length', false, eightDaysAgo, '192.0.2.9')))).toMatchObject({
    status: 401,
  });
  // An end that was moved is no end that was signed.
  const [id, ends, signature] = other!.slice('detto_session='.length).split('.');
  expect(coming(`detto_session=${id}.${Number(ends) + 1}.${signature}`)).toMatchObject({ status: 401 });
});

// RFC 7239 in its older form: what a proxy on this machine adds last is where a request comes from; others may say what they like.
test.each([
  ['203.0.113.5', '198.51.100.7', '203.0.113.5'],
  ['127.0.0.1', '6.6.6.6, 198.51.100.7', '198.51.100.7'],
  ['127.0.0.1', undefined, '127.0.0.1'],
])('asked from %s, forwarded for %s: it is %s', (remoteAddress, forwarded, peer) =>
  expect(peerOf({ headers: { 'x-forwarded-for': forwarded }, socket: { remoteAddress } } as never)).toBe(peer),
);
