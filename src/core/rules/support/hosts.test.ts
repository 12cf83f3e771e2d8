import { otherHost } from './hosts';
import type { RuleContext } from '../../model/rule-context';

const context = (src: string | null, path: string, own: string | null = null) =>
  ({
    appearance: { markup: { src } },
    page: { path },
    picture: own === null ? null : { src: own },
  }) as unknown as RuleContext;

/** References as the URL Standard resolves them (4.4): only a scheme or two slashes lead to another host. */
test.each([
  ['a.png', null],
  ['/a.png', null],
  ['../a.png?from=https://other.example/', null],
  ['', null],
  ['//cdn.other.example/a.png', 'cdn.other.example'],
  ['\\\\cdn.other.example\\a.png', 'cdn.other.example'],
  [' https://cdn.other.example/a.png', 'cdn.other.example'],
  ['HTTPS://CDN.other.example/a.png', 'cdn.other.example'],
  ['https:a.png', null],
  ['https://www.skerry.example/a.png', null],
  ['https://skerry.example./a.png', null],
  ['data:image/gif;base64,AAAA', null],
])('%j on a page of skerry.example: %j', (src, host) => {
  expect(otherHost(context(src, 'https://skerry.example/harbour/'), [])).toBe(host);
});

test('a page in a folder borrows from every host, and a host of the house is none', () => {
  expect(otherHost(context('https://cdn.example.net/a.png', 'harbour/index.html'), [])).toBe('cdn.example.net');
  expect(otherHost(context('https://cdn.example.net/a.png', 'harbour/index.html'), ['example.net'])).toBeNull();
});
