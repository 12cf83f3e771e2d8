import { refusedRequest } from './own-request';

const headers = (given: Record<string, string>) => new Headers(given);

test.each(['127.0.0.1:4800', 'localhost:4800', '[::1]:4800', '127.0.0.1'])('answers as %s', (host) =>
  expect(refusedRequest('GET', headers({ host }))).toBeNull(),
);

// DNS rebinding: a page elsewhere points its own name at this machine.
test.each(['evil.example', 'evil.example:4800', '127.0.0.1.evil.example', ''])('does not answer as “%s”', (host) =>
  expect(refusedRequest('GET', headers(host ? { host } : {}))).toContain('does not answer'),
);

// Fetch Standard, 3.1: a browser sends `Origin` with every request that changes something.
test.each([
  ['its own page', { origin: 'http://127.0.0.1:4800' }, null],
  ['another port of this machine', { origin: 'http://127.0.0.1:5000' }, 'another site'],
  ['a page elsewhere', { origin: 'https://evil.example' }, 'another site'],
  ['a page without an origin', { origin: 'null' }, 'another site'],
  ['a program', {}, null],
  ['a page elsewhere that hides its origin', { 'sec-fetch-site': 'cross-site' }, 'another site'],
])('a change asked for by %s', (_, more, refused) => {
  const answer = refusedRequest('POST', headers({ host: '127.0.0.1:4800', ...(more as Record<string, string>) }));
  if (refused === null) expect(answer).toBeNull();
  else expect(answer).toContain(refused);
});
