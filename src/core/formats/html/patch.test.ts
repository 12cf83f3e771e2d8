import iconv from 'iconv-lite';
import { parse, type DefaultTreeAdapterTypes as T } from 'parse5';
import { readPage } from './read-page';
import { encodeText } from './charset';
import { patchPage } from './patch';

const patch = (html: string, text: string) => patchPage(Buffer.from(html), [{ order: 0, text }]).bytes.toString();

test.each([
  ['<img src="a.png" alt="x">', 'New', '<img src="a.png" alt="New">'],
  ["<img alt='x' src=a>", 'It’s "new" & it\'s <5', '<img alt=\'It’s "new" &amp; it&#39;s &lt;5\' src=a>'],
  ['<img src="a.png">', 'New', '<img src="a.png" alt="New">'],
  ['<img src=a.png/>', 'New', '<img src=a.png/ alt="New">'],
  ['<img alt src=a>', 'New', '<img alt="New" src=a>'],
  ['<img alt=x/>', 'New', '<img alt="New">'],
  ['<IMG SRC="a.png">', 'New', '<IMG SRC="a.png" ALT="New">'],
  ['<img alt="first" alt="second">', 'New', '<img alt="New" alt="second">'],
  ['<img src="a>b.png"\r\n  alt = "x"\r\n>', 'New', '<img src="a>b.png"\r\n  alt = "New"\r\n>'],
  ['<img src="a"title="t">', 'New', '<img src="a" alt="New" title="t">'],
  ['<img src=a title="t" alt="x">', '', '<img src=a alt="">'],
  ['<img src=a aria-label="x">', 'New', '<img src=a alt="New" aria-label="New">'],
  ['<svg viewBox="0 0 1 1"><use/></svg>', 'New', '<svg aria-label="New" role="img" viewBox="0 0 1 1"><use/></svg>'],
  ['<svg><path/></svg>', '', '<svg aria-hidden="true"><path/></svg>'],
])('%s with %j', (html, text, want) => expect(patch(html, text)).toBe(want));

test.each(['utf-8', 'windows-1252', 'iso-8859-2', 'windows-1251', 'shift_jis', 'gbk', 'euc-kr', 'koi8-u', 'utf-16le'])(
  'a page in %s keeps every other byte, and says the new words',
  (charset) => {
    const foreign = iconv.decode(iconv.encode('Žluťoučký кот Fähre 表示ソ 한국', charset), charset);
    const html = `<meta charset="${charset}"><p>${foreign}</p>\r\n<img src=a alt="${foreign.replace(/"/g, '')}">\r\n<p>${foreign}</p>`;
    const bytes = iconv.encode(html, charset, { addBOM: charset === 'utf-16le' });
    const words = 'Fähre am Kai ☂ — “neu”';
    const { bytes: out, changes } = patchPage(bytes, [{ order: 0, text: words }]);
    expect(readPage(out).appearances[0]!.markup.alt).toBe(words);
    expect(changes).toHaveLength(1);
    const tail = iconv.encode(`\r\n<p>${foreign}</p>`, charset, { addBOM: false });
    const head = bytes.subarray(0, bytes.indexOf(iconv.encode('alt="', charset, { addBOM: false })));
    expect(out.subarray(0, head.length).equals(head)).toBe(true);
    expect(out.subarray(-tail.length).equals(tail)).toBe(true);
  },
);

// ISO-2022-JP switches between sets of characters (Encoding Standard, 12.2): bytes cannot be patched in place.
test('a page in iso-2022-jp is written again as it was, with what it lacks as references', () => {
  const html = '<meta charset="iso-2022-jp"><p>灯台</p><img src=a><p>港</p>';
  const { bytes, changes } = patchPage(encodeText(html, 'iso-2022-jp'), [{ order: 0, text: '船 ☂' }]);
  expect(changes).toHaveLength(1);
  expect(bytes.includes(0x1b)).toBe(true);
  expect(bytes.equals(encodeText(html.replace('src=a', 'src=a alt="船 ☂"'), 'iso-2022-jp'))).toBe(true);
  expect(readPage(bytes).appearances[0]!.markup.alt).toBe('船 ☂');
});

test('bytes that are not valid in the page’s encoding stay as they are', () => {
  const bytes = Buffer.concat([
    Buffer.from('<meta charset=utf-8><p>'),
    Buffer.from([0xff, 0xfe, 0xc3]),
    Buffer.from('</p><img src=a><p>'),
    Buffer.from([0xe9, 0x80]),
  ]);
  const { bytes: out } = patchPage(bytes, [{ order: 0, text: 'Fähre' }]);
  const cut = bytes.indexOf('<img src=a') + '<img src=a'.length;
  expect(out.equals(Buffer.concat([bytes.subarray(0, cut), Buffer.from(' alt="Fähre"'), bytes.subarray(cut)]))).toBe(
    true,
  );
});

test('what cannot be changed safely is refused with a reason, and the rest is done', () => {
  const html = '<img src="{{ x }}"><p id=l>L</p><img src=b aria-labelledby=l><img src=c>';
  const { refusals, changes } = patchPage(
    Buffer.from(html),
    [0, 1, 2].map((order) => ({ order, text: 'New' })),
  );
  expect(refusals.map((r) => r.order)).toEqual([0, 1]);
  expect(refusals.map((r) => r.reason.id)).toEqual(['refusal.template', 'refusal.labelledby']);
  expect(changes.map((c) => c.after)).toEqual(['<img src=c alt="New">']);
});

test('an edit of an appearance that is not there is an error', () => {
  expect(() => patchPage(Buffer.from('<p>'), [{ order: 0, text: 'x' }])).toThrow(RangeError);
});

test('parse5 reads back what was written, whatever the words', () => {
  const words = ['a"b', "a'b", 'a&amp;b', '<b>', 'x\u00a0y', '&notin;', '{{x}}', 'a\nb'];
  for (const text of words)
    for (const html of ['<img alt="">', "<img alt=''>", '<img alt>', '<img alt=q>', '<img>']) {
      const document = parse(patch(html, text));
      const body = (document.childNodes[0] as T.Element).childNodes[1] as T.Element;
      expect((body.childNodes[0] as T.Element).attrs).toEqual([{ name: 'alt', value: text }]);
    }
});
