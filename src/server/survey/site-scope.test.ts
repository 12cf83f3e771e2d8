import { strings } from '@/ui/strings';
import { Scope } from '@/contract/scope';
import { SiteScope } from './site-scope';
import { Skipped } from './source';

const scopeOf = (asked: Partial<Scope> = {}) =>
  new SiteScope([new URL('https://isle.example/en/'), new URL('https://shop.isle.example:8443/')], Scope.parse(asked));
const told = (scope: SiteScope, address: string) => {
  const outside = scope.outside(address);
  return outside instanceof Skipped ? `${outside.why}: ${strings.message(outside.reason)}` : outside;
};

test.each([
  ['https://isle.example/', null],
  ['https://isle.example/en/quay?page=2', null],
  ['http://isle.example/en/', null],
  ['https://shop.isle.example:8443/fares', null],
  // A host is a name with its port, and no sub-domain of another (WHATWG URL, host).
  ['https://shop.isle.example/fares', 'other-host: on another host, shop.isle.example'],
  ['https://www.isle.example/', 'other-host: on another host, www.isle.example'],
  ['https://isle.example.evil.example/', 'other-host: on another host, isle.example.evil.example'],
  ['https://isle.example/timetable.PDF', 'no page'],
  ['https://other.example/photo.jpeg', 'no page'],
  ['https://isle.example/photo.jpeg?page=1', 'no page'],
  ['https://isle.example/release-1.zip/notes', null],
])('%s: %s', (address, outside) => expect(told(scopeOf(), address)).toBe(outside));

test('a path, and patterns as in robots.txt, of which those that leave out count more', () => {
  const below = scopeOf({ prefix: '/en/' });
  expect(told(below, 'https://isle.example/en/quay')).toBeNull();
  expect(told(below, 'https://isle.example/de/quay')).toBe('left-out: not under /en/');

  const some = scopeOf({ include: ['/en/news/*', '/fares$'], exclude: ['/*/print', '*?sort='] });
  expect(told(some, 'https://isle.example/en/news/1')).toBeNull();
  expect(told(some, 'https://isle.example/fares')).toBeNull();
  expect(told(some, 'https://isle.example/fares/2026')).toBe('left-out: matches none of the patterns');
  expect(told(some, 'https://isle.example/en/news/1/print')).toBe('left-out: excluded by a pattern');
  expect(told(some, 'https://isle.example/en/news/?sort=date')).toBe('left-out: excluded by a pattern');
});
