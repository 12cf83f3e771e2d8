export {};

process.env['DETTO_HOST'] = '0.0.0.0';
process.env['DETTO_HOSTS'] = 'detto.example, Alt.example';
process.env['DETTO_TOKEN'] = 'a token of some length';
const { refusedRequest } = await import('./own-request');
const { signIn } = await import('./session');

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
  const answer = signIn('a token of some length', false, 0);
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

test('ten wrong tries a minute, then even the right token waits', () => {
  for (let i = 0; i < 10; i++) expect(signIn(`wrong ${i}`, false, 1000 + i)).toBe('wrong');
  expect(signIn('a token of some length', false, 2000)).toBe('wait');
  expect(signIn('a token of some length', true, 61_500)).toMatchObject({ cookie: expect.stringContaining('; Secure') });
});
