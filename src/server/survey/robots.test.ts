import { pathPattern, Robots } from './robots';

const allows = (text: string, path: string, product = 'DettoBot') => new Robots(text, product).allows(path);

// RFC 9309, 2.2.1: the group of the product token wins over `*`; groups of one agent are merged.
test('the most specific group counts, and groups of one agent are combined', () => {
  const text =
    'User-agent: *\nDisallow: /\n\nUser-agent: DettoBot\nDisallow: /a\n\nUser-agent: dettobot\nDisallow: /b\n';
  expect(allows(text, '/c')).toBe(true);
  expect(allows(text, '/a')).toBe(false);
  expect(allows(text, '/b')).toBe(false);
  expect(allows(text, '/c', 'OtherBot')).toBe(false);
});

// RFC 9309, 5.1, simple example (from memory).
test('the example of the RFC', () => {
  const text =
    'User-Agent: *\nDisallow: *.gif$\nDisallow: /example/\nAllow: /publications/\n\nUser-Agent: foobot\nDisallow:/\nAllow:/example/page.html\nAllow:/example/allowed.gif\n\nUser-Agent: barbot\nUser-Agent: bazbot\nDisallow: /example/page.html\n\nUser-Agent: quxbot\n';
  expect(allows(text, '/example/x')).toBe(false);
  expect(allows(text, '/a/b.gif')).toBe(false);
  expect(allows(text, '/publications/x')).toBe(true);
  expect(allows(text, '/example/page.html', 'foobot')).toBe(true);
  expect(allows(text, '/other', 'foobot')).toBe(false);
  expect(allows(text, '/example/page.html', 'bazbot')).toBe(false);
  expect(allows(text, '/anything', 'quxbot')).toBe(true);
});

// RFC 9309, 5.2, longest match (from memory).
test('the longest match wins, and allow on a tie', () => {
  const text = 'User-Agent: foobot\nAllow: /example/page/\nDisallow: /example/page/disallowed.gif\n';
  expect(allows(text, '/example/page/disallowed.gif', 'foobot')).toBe(false);
  expect(allows(text, '/example/page/x', 'foobot')).toBe(true);
  expect(allows('User-agent: *\nDisallow: /p\nAllow: /p', '/p')).toBe(true);
});

test.each([
  ['/fish*.php', '/fishheads/catfish.php?parameters', true],
  ['/fish*.php', '/Fish.PHP', false],
  ['/*.php$', '/folder/file.php', true],
  ['/*.php$', '/file.php?x', false],
  // Percent-encoding is compared decoded where unreserved (RFC 9309, 2.2.2).
  ['/foo/bar?baz=%7Equux', '/foo/bar?baz=~quux', true],
  ['/foo/ツ', '/foo/%E3%83%84', true],
  ['/a%2Fb', '/a/b', false],
])('disallow %s matches %s: %s', (pattern, path, blocked) =>
  expect(allows(`User-agent: *\nDisallow: ${pattern}`, path)).toBe(!blocked),
);

test('comments, other lines and an empty rule change nothing; robots.txt itself is always allowed', () => {
  const text =
    'user-agent: DettoBot # us\nSitemap: https://x/s.xml\nCrawl-delay: 1\nuser-agent: b\nDisallow: /x\nDisallow:\n';
  expect(allows(text, '/x')).toBe(false);
  expect(allows(text, '/y')).toBe(true);
  expect(allows('User-agent: *\nDisallow: /', '/robots.txt')).toBe(true);
  expect(allows('', '/x')).toBe(true);
});

test.each([
  ['/a*b*c', '/a--b--c--', true],
  ['/a*b*c$', '/a-b-c-c', true],
  ['/a*b*c$', '/a-b-c-d', false],
  ['*.gif$', '/x/y.gif', true],
  ['/ab*ab$', '/ab', false],
  ['/$', '/', true],
  ['/$', '/a', false],
  ['/a$b', '/a$b/c', true],
])('pattern %s and %s: %s', (pattern, path, blocked) =>
  expect(allows(`User-agent: *\nDisallow: ${pattern}`, path)).toBe(!blocked),
);

// A pattern that keeps a backtracking matcher busy for longer than a person lives.
test('no pattern of stars takes long', () => {
  const begun = performance.now();
  const pattern = `/${'a*'.repeat(5000)}b`;
  expect(allows(`User-agent: *\nDisallow: /${'*a'.repeat(25)}b`, `/${'a'.repeat(120)}`)).toBe(true);
  expect(pathPattern(pattern)(`/${'a'.repeat(100_000)}`)).toBe(false);
  expect(allows(`${' '.repeat(200_000)}x\nUser-agent: *\nDisallow: /x`, '/x')).toBe(false);
  expect(performance.now() - begun).toBeLessThan(2000);
});
