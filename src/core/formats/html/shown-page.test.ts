import { parse, type DefaultTreeAdapterMap } from 'parse5';
import { HERE, shownPage } from './shown-page';

/** A found page apart from its site, read by parse5 as a browser would (HTML Living Standard, 13.2). */
type Node = DefaultTreeAdapterMap['node'];
const elements = (node: Node): DefaultTreeAdapterMap['element'][] => [
  ...('tagName' in node ? [node] : []),
  ...('childNodes' in node ? node.childNodes.flatMap(elements) : []),
];
const tag = (source: string, start: string, more: { src?: string | null; isHere?: boolean } = {}) => {
  const at = source.indexOf(start);
  return { start: at, end: source.indexOf('>', at) + 1, src: '/found/c/1', isHere: false, ...more };
};
const attributes = (html: string, name: string) =>
  elements(parse(html))
    .filter((e) => e.tagName === name)
    .map((e) => Object.fromEntries(e.attrs.map((a) => [a.name, a.value])));

test('pictures come from here, whatever the page asks for', () => {
  const source =
    '<p>A<img alt="x" src="https://far.example/a.png" srcset="b.png 2x" onerror="x()">B<input type=image src=c.png>';
  const out = shownPage(source, [tag(source, '<img'), tag(source, '<input', { src: '/found/c/2' })]);
  expect(attributes(out, 'img')[0]).toMatchObject({ src: '/found/c/1', srcset: '', alt: 'x' });
  expect(attributes(out, 'input')[0]).toMatchObject({ src: '/found/c/2', type: 'image' });
  expect(out).toContain('<p>A');
});

test('other versions of a picture are never chosen', () => {
  const source = '<picture><source srcset="wide.webp"><img src="a.jpg"></picture>';
  const out = shownPage(source, [tag(source, '<source'), tag(source, '<img')]);
  expect(attributes(out, 'source')[0]).toMatchObject({ srcset: '', media: 'not all' });
});

test('the one that is looked for has a place to go to and an outline; one that cannot be shown is none', () => {
  const source = '<img src=a.png><svg width=4></svg><img src=b.png>';
  const out = shownPage(source, [
    tag(source, '<img src=b', { src: null, isHere: true }),
    tag(source, '<svg', { isHere: false }),
  ]);
  const [first, second] = attributes(out, 'img');
  expect(first).toEqual({ src: 'a.png' });
  expect(second).toMatchObject({ src: '', style: expect.stringContaining('outline') });
  expect(attributes(out, 'span')).toEqual([{ id: HERE }]);
  expect(attributes(out, 'svg')[0]).toEqual({ width: '4' });
});

test('places that do not fit the source, or one another, leave it as it is', () => {
  const source = '<p>Text</p>';
  expect(shownPage(source, [{ start: 3, end: 7, src: '/x', isHere: true }])).toBe(source);
  expect(shownPage(source, [{ start: 0, end: 900, src: '/x', isHere: true }])).toBe(source);
  const images = '<img src=a><img src=b>';
  const both = tag(images, '<img');
  expect(shownPage(images, [both, { ...both, end: images.length }]).match(/found/g)).toHaveLength(1);
});
