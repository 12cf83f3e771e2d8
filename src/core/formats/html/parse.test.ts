import { parse, serialize } from 'parse5';
import { positionOf } from '../../model/appearance';
import { readSource } from './read-page';
import { parseHtml } from './parse';
import { elementsOf } from './tree';

/** Shapes that trip cheap location tracking: entities, quotes, line ends, foreign content, foster parenting. */
const SOURCES = [
  '<p>\r\n<img src=1\r\nalt=x>\r\n<svg><image href=2 /></svg>',
  '<table><img alt="a>b"><tr><td><image src=3></table>',
  '<!-- <img> --><IMG\tSRC="é&amp;ü" ALT=\'it"s\'/><input type=image><area>',
  '<script>"<img>"</script><noscript><img src=n></noscript><template><img src=t></template>',
  '<a><b><a><img src=x></b></a><svg><foreignObject><img src=y></foreignObject></svg><object data=a.png><embed src=b.png>',
  '\ufeff<p>😀<img src="😀.png" alt="😀"><p><img src=a<img src=b>',
];

test.each(SOURCES)('start tags stand where parse5’s own location records say: %s', (source) => {
  const ours = parseHtml(source);
  const official = elementsOf(parse(source, { sourceCodeLocationInfo: true, scriptingEnabled: false }));
  const mine = elementsOf(ours.document);
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

/** Where following a run of characters at once could go astray: what ends it, and where white space counts. */
const RUNS = [
  'a b&amp;c &notit; &foo.bar &#x41;z &am',
  '<p title="a&copy=b c&foo d" alt=\'it&apos;s "x"\' id=un"quo\'ted`=x&lt;y>t</p>',
  '<title>a &lt; b <i> c</title><textarea>\n  first\r\nline &amp; <b></textarea><pre>\n\n kept</pre>',
  '<script>if (a < b && "<!--<script>" ) x</script> y </script>z<style>a > b { c: "</i>" }</style>',
  '<table> words <tr> more <td> in a cell </td> astray </table>',
  '<table><colgroup> x <col></colgroup><caption> c a p </caption></table><select> <option> o n e <b>b</b></select>',
  'before <html lang=x> <head> <meta name=a> </head> after head <body class="a b"> in body </body> late </html> later',
  '<svg><title>t &amp; u</title><![CDATA[ x ]] > y ]]><text> a b </text></svg><math> m &lt; n </math>',
  '<!-- a - b -- c --! d --> <!doctype html> <!x> </ y> <1> < b',
  'one\rtwo\r\nthree\n\rfour\0five \ud800 six 😀 sev\u{10000}en \ufeff eight\u0085\u00a0nine',
  '<b><i>a</b> b c</i> d <a href=1>e <a href=2>f</a> <p>g <frameset> <noscript>h &lt; i</noscript>',
  '<frameset> a b <frame> c d </frameset> e f <noframes> g h </noframes> </html> i j',
  '<p>\n a b <span\n class="c\r\nd  e"\t>f</span \n x=y> g',
  '<a href="b"class="c">d</a><a href="e" href="f" id="g" >h</a  ><img src="i"/><br/ ><hr data-a_b:c="j" k l=""/>',
  '<a href="m&amp;n">o</a><a href="p>q<r" title="s">t</a><A HREF="u">v</A><a href = "w">x</a><a-b c.d="y" é="z"></a-b>',
  '<p a="1" b="2" c="3" d="4" e="5"><abcde a="1"><axcye a="2"></axcye></abcde><h1 id="😀" x="\0">y</h1></p z="1"/><i>',
  '<table class="a"><b id="b">c<tr id="d"><textarea id="e"><i></textarea></table><script type="f"><b id="g"></script >',
  '<html lang="a"><body class="b"><p><b id="c"><p>d</b><body class="e" id="f"><html lang="g" id="h"><a href="i" k="',
];

test.each(RUNS)('a tree is the one that parse5 makes without help: %j', (source) => {
  for (const text of [source, source.slice(0, -1), source.replaceAll(' ', '\r\n')]) {
    const official = parse(text, { scriptingEnabled: false });
    expect(serialize(parseHtml(text).document)).toBe(serialize(official));
  }
});

test('a tag with a hundred thousand attributes is read at once', () => {
  const attributes = Array.from({ length: 100_000 }, (_, i) => `a${i}="b"`).join(' ');
  const { appearances } = readSource(`<p ${attributes} a5="c"><img src=x alt=Quay ${attributes}>`);
  expect(appearances[0]).toMatchObject({ accessible: { name: 'Quay' }, state: 'described' });
});

test('lines and columns count from 1 and take every kind of line end', () => {
  const { appearances } = readSource('<p>\r\n <img src=a>\r<img src=b>\n\n<img src=c>');
  expect(appearances.map(positionOf).map(({ line, column }) => [line, column])).toEqual([
    [2, 2],
    [3, 1],
    [5, 1],
  ]);
});

test('a hundred thousand nested elements are read without overflowing', () => {
  const { appearances } = readSource(`${'<div>'.repeat(100_000)}<a href=x><img src=deep.png alt=Deep></a>`);
  expect(appearances[0]).toMatchObject({ accessible: { name: 'Deep' }, state: 'described' });
});
