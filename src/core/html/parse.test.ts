import { parse } from 'parse5';
import { readSource } from './appearances';
import { parseHtml } from './parse';
import { childrenOf, isElement, type Element, type Node } from './tree';

/** Shapes that trip cheap location tracking: entities, quotes, line ends, foreign content, foster parenting. */
const SOURCES = [
  '<p>\r\n<img src=1\r\nalt=x>\r\n<svg><image href=2 /></svg>',
  '<table><img alt="a>b"><tr><td><image src=3></table>',
  '<!-- <img> --><IMG\tSRC="é&amp;ü" ALT=\'it"s\'/><input type=image><area>',
  '<script>"<img>"</script><noscript><img src=n></noscript><template><img src=t></template>',
  '<a><b><a><img src=x></b></a><svg><foreignObject><img src=y></foreignObject></svg><object data=a.png><embed src=b.png>',
  '\ufeff<p>😀<img src="😀.png" alt="😀"><p><img src=a<img src=b>',
];

function elements(root: Node): Element[] {
  const out: Element[] = [];
  const todo: Node[] = [root];
  while (todo.length > 0) {
    const n = todo.pop()!;
    if (isElement(n)) out.push(n);
    todo.push(...[...childrenOf(n)].reverse());
  }
  return out;
}

test.each(SOURCES)('start tags stand where parse5’s own location records say: %s', (source) => {
  const ours = parseHtml(source);
  const official = elements(parse(source, { sourceCodeLocationInfo: true, scriptingEnabled: false }));
  const mine = elements(ours.document);
  expect(mine.map((e) => e.tagName)).toEqual(official.map((e) => e.tagName));
  let compared = 0;
  mine.forEach((element, i) => {
    const range = ours.rangeOf(element);
    if (!range) return;
    const location = official[i]!.sourceCodeLocation!;
    const tag = location.startTag ?? location;
    expect([range.start, range.end]).toEqual([tag.startOffset, tag.endOffset]);
    compared++;
  });
  expect(compared).toBeGreaterThan(0);
});

test('lines and columns count from 1 and take every kind of line end', () => {
  const { appearances } = readSource('<p>\r\n <img src=a>\r<img src=b>\n\n<img src=c>');
  expect(appearances.map((a) => [a.line, a.column])).toEqual([
    [2, 2],
    [3, 1],
    [5, 1],
  ]);
});

test('a hundred thousand nested elements are read without overflowing', () => {
  const { appearances } = readSource(`${'<div>'.repeat(100_000)}<a href=x><img src=deep.png alt=Deep></a>`);
  expect(appearances[0]).toMatchObject({ name: 'Deep', state: 'said' });
});
