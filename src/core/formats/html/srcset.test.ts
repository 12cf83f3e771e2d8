import { parseSrcset } from './srcset';

const parsed = (srcset: string) => parseSrcset(srcset).map(({ src, descriptor }) => [src, descriptor]);

// After the cases of web-platform-tests, the-img-element/srcset/parse-a-srcset-attribute.html (from memory). Chromium 156 was asked
// about each descriptor below, by whether it shows the candidate, and agreed.
test.each<[string, [string, string][]]>([
  ['', []],
  [' , ', []],
  [',,,', []],
  [
    'image.png 1x, image@2x.png 2x',
    [
      ['image.png', '1x'],
      ['image@2x.png', '2x'],
    ],
  ],
  [
    'a.jpg 320w,b.jpg 640w',
    [
      ['a.jpg', '320w'],
      ['b.jpg', '640w'],
    ],
  ],
  [
    'one.png, two.png',
    [
      ['one.png', ''],
      ['two.png', ''],
    ],
  ],
  ['data:image/png;base64,AAAA 1x', [['data:image/png;base64,AAAA', '1x']]],
  ['  data:,a  1x  ', [['data:,a', '1x']]],
  [
    'data:,a\n1x\f,\tdata:,b',
    [
      ['data:,a', '1x'],
      ['data:,b', ''],
    ],
  ],
  ['data:,a ,', [['data:,a', '']]],
  ['data:,a,', [['data:,a', '']]],
  [', data:,a', [['data:,a', '']]],
  ['data:,a (', []],
  ['data:,a 1x (, data:,b', []],
  ['data:,a ( , data:,b 1x, ), data:,c', [['data:,c', '']]],
  ['data:,a\u00a01x', [['data:,a\u00a01x', '']]],
])('srcset %j', (srcset, want) => expect(parsed(srcset)).toEqual(want));

test.each(['1x', '0x', '-0x', '-0.0x', '.5x', '1.5x', '1e3x', '1E-3x', '01x', '1w', '007w', '1w 1h', '1h 1w'])(
  'the descriptor %s means something',
  (descriptor) => expect(parsed(`data:,a ${descriptor}`)).toEqual([['data:,a', descriptor]]),
);

test.each([
  ...['foo', '1', 'x', '-1x', '+1x', '1.x', '1X', 'NaNx', 'Infinityx', '1ex', '-x'],
  ...['0w', '-1w', '1.0w', '1e1w', '1W', '1w 1w', '1w 1x', '1x 1x', '1h', '1x 1h', '1w 0h', '1w 1h 1h'],
])('the descriptor %s means nothing, and its candidate is left out', (descriptor) =>
  expect(parsed(`data:,a ${descriptor}, data:,b 1x`)).toEqual([['data:,b', '1x']]),
);

test('an endless attribute is read in one go', () => {
  expect(parsed(`a${','.repeat(2_000_000)}b 1x`)).toHaveLength(1);
  expect(parsed('('.repeat(2_000_000))).toHaveLength(1);
  expect(parsed('a 1x,'.repeat(200_000))).toHaveLength(200_000);
  expect(parsed(`a ${'( '.repeat(1_000_000)}`)).toHaveLength(0);
});
