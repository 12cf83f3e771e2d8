import { targetPath } from './target';

test.each([
  // RFC 3986, 5.4.1, against http://a/b/c/d;p?q: normal examples.
  ['http://a/b/c/d;p?q', 'g', 'http://a/b/c/g'],
  ['http://a/b/c/d;p?q', './g/', 'http://a/b/c/g/'],
  ['http://a/b/c/d;p?q', '/g', 'http://a/g'],
  ['http://a/b/c/d;p?q', '//g', 'http://g/'],
  ['http://a/b/c/d;p?q', '?y', 'http://a/b/c/d;p?y'],
  ['http://a/b/c/d;p?q', 'g#s', 'http://a/b/c/g'],
  ['http://a/b/c/d;p?q', '../../g', 'http://a/g'],
  ['http://a/b', '#top', null],
  ['http://a/b', 'mailto:x@y', null],
  ['http://a/b', 'http://[', null],
  ['http://a/b', null, null],
  ['docs/a.html', '../b%20c.html', 'b c.html'],
  ['docs/a.html', 'b.html#x', 'docs/b.html'],
  ['docs/a.html', 'https://elsewhere.example/', null],
  ['a.html', '%E0%A4%A', null],
])('from %s, %s leads to %s', (from, href, target) => expect(targetPath(from, href)).toBe(target));
