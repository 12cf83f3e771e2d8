import { parseFragment, type DefaultTreeAdapterTypes as T } from 'parse5';
import { findAttribute, scanAttributes } from './attributes';

/** What parse5, a tokenizer by the standard, makes of a start tag: the first of each name. */
function asParsed(tag: string): Record<string, string> {
  const [element] = parseFragment(tag).childNodes as T.Element[];
  return Object.fromEntries(element!.attrs.map((a) => [a.prefix ? `${a.prefix}:${a.name}` : a.name, a.value]));
}

/** The same by the scanner, with character references left as they are written. */
function asScanned(tag: string): Record<string, string> {
  const out: Record<string, string> = {};
  for (const a of scanAttributes(tag, 0, tag.length)) out[a.name.toLowerCase()] ??= a.raw ?? '';
  return out;
}

/** HTML Living Standard 13.2.5.32 to 13.2.5.40, one for each turn that the states can take. */
test.each([
  '<img>',
  '<img/>',
  '<img alt>',
  '<img alt >',
  '<img alt/src=a>',
  '<img alt="a b" src=c.gif>',
  '<img alt=\'a "b"\'>',
  '<img alt = "a">',
  '<img alt\n=\n"a"\n>',
  '<img alt="">',
  '<img alt= src=a>',
  '<img ALT="First" alt="Second">',
  '<img alt="a"src="b">',
  '<img alt=a/b.gif>',
  '<img alt=a"b>',
  '<img =alt="a">',
  '<img "alt"=a>',
  "<img alt'x=a>",
  '<img alt=a=b>',
  '<img / / alt=a>',
  '<img a<b=c>',
  '<IMG\talt="a"\fsrc=b>',
  '<img alt="<b>not a tag</b>">',
  '<img data-ä="ü" 名="前">',
  '<area\r\nhref=a\r\nalt=b>',
])('%s as a parser reads it', (tag) => expect(asScanned(tag)).toEqual(asParsed(tag)));

test('a thousand start tags put together by a fixed rule, as a parser reads them', () => {
  const parts = [' ', '\n', '/', 'alt', 'ALT', 'src', '=', '"', '"', "'", "'", 'a', 'b c', '=', ' ', 'x'];
  let seed = 7;
  const next = () => (seed = (seed * 48271) % 2147483647);
  let compared = 0;
  for (let n = 0; n < 1000; n++) {
    const tag = `<img ${Array.from({ length: 12 }, () => parts[next() % parts.length]!).join('')}>`;
    const parsed = parseFragment(tag, { sourceCodeLocationInfo: true }).childNodes as T.Element[];
    // A quote that is not closed eats the end of the tag: then there is none.
    if (parsed.length !== 1 || parsed[0]!.nodeName !== 'img') continue;
    expect([tag, asScanned(tag)]).toEqual([tag, asParsed(tag)]);
    compared++;
  }
  expect(compared).toBeGreaterThan(300);
});

test('offsets point into the source', () => {
  const source = 'before <img src=a.gif alt = "A &amp; B" title>';
  const start = source.indexOf('<');
  const attributes = scanAttributes(source, start, source.length);
  for (const a of attributes) {
    expect(source.slice(a.start, a.start + a.name.length)).toBe(a.name);
    if (a.raw !== null) expect(source.slice(a.valueStart, a.valueEnd)).toBe(a.raw);
  }
  const alt = findAttribute(attributes, 'alt')!;
  expect(source.slice(alt.start, alt.end)).toBe('alt = "A &amp; B"');
  expect(alt).toMatchObject({ quote: '"', raw: 'A &amp; B' });
  expect(findAttribute(attributes, 'title')).toMatchObject({ quote: '', raw: null });
  expect(findAttribute(attributes, 'href')).toBeUndefined();
});

test('a prefix is part of the name', () => {
  const source = '<use xlink:href="#a" href="#b">';
  expect(scanAttributes(source, 0, source.length).map((a) => a.name)).toEqual(['xlink:href', 'href']);
});
