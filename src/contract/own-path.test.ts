import { ownPath } from './own-path';

// OWASP Cheat Sheet Series, Unvalidated Redirects and Forwards; the forms are from memory.
test.each([
  'https://evil.test/',
  '//evil.test',
  '/\t/evil.test',
  '/\n/evil.test',
  '/\\evil.test',
  '\\\\evil.test',
  '/.//evil.test',
  '/%2e%2e//evil.test/..//evil.test',
  'javascript:alert(1)',
  '',
  'c/isle',
])('%j leads nowhere else', (to) => {
  const path = ownPath(to);
  expect(new URL(path, 'http://detto.example').origin).toBe('http://detto.example');
  expect(path.startsWith('/') && !path.startsWith('//')).toBe(true);
});

test.each(['/', '/c/isle/brief?x=1', '/c/isle/desk/3#text'])('%j is one of ours', (to) => expect(ownPath(to)).toBe(to));
