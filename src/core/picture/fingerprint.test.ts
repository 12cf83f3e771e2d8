import sharp from 'sharp';
import { creditFrom, creditLine, licenceName } from '../model/credit';
import { featuresOf } from './features';
import { judge } from './forest';
import { countingLines, textOf, textShareOf, type TextLine } from './recognised';
import { kindOf } from './kind';
import { isSurely, KINDS, NOT_ANALYSED } from '../model/picture-analysis';
import { orientationOf } from './details';
import { agreedThings, countedThings, distinct, overlap } from './things';

async function features(svg: string, type = 'image/png') {
  const { data, info } = await sharp(Buffer.from(svg)).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  return featuresOf({ data, width: info.width, height: info.height }, { width: info.width, height: info.height, type });
}
const svg = (inner: string, width = 100, height = 80) =>
  `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}">${inner}</svg>`;

test('measures are what their names say', async () => {
  const even = await features(svg('<rect width="100" height="80" fill="#fff"/>'));
  expect(even).toMatchObject({
    mainColour: 1,
    even: 1,
    white: 1,
    border: 1,
    clear: 0,
    edges: 0,
    colours: 0,
    square: 0,
  });
  expect(even.area).toBeCloseTo(Math.log2(8001), 5);
  const half = await features(svg('<rect width="50" height="80" fill="#000"/>'));
  expect(half.clear).toBeCloseTo(0.5, 2);
  expect(half.twoColours).toBeCloseTo(1, 2);
  const lines = await features(
    svg('<rect width="100" height="80" fill="#fff"/><rect y="40" width="100" height="2" fill="#000"/>'),
  );
  expect(lines.horizontals).toBeCloseTo(2 / 80, 5);
  expect(lines.verticals).toBe(0);
  expect((await features(svg('<rect width="100" height="80" fill="#fff"/>'), 'image/jpeg')).jpeg).toBe(1);
});

test('a pixel is a separator, whatever else it is', async () => {
  const pixel = await features(svg('<rect width="1" height="1" fill="#123"/>', 1, 1));
  expect(kindOf(pixel)).toEqual({
    kind: 'separator',
    sure: 1,
    reasons: [{ id: 'kind-reason.thin', values: { side: 1 } }],
  });
});

test('kinds come with how sure they are and with what decided', async () => {
  const lines = ['Winter market', 'Saturday and Sunday', 'from ten to five', 'Free entry', 'Please bring a bag'];
  const text = lines
    .map((l, i) => `<text x="30" y="${70 + i * 60}" font-size="36" font-weight="700">${l}</text>`)
    .join('');
  const poster = kindOf(
    await features(
      svg(`<rect width="480" height="360" fill="#f4ead0"/><g font-family="sans-serif">${text}</g>`, 480, 360),
    ),
  );
  expect(poster.kind).toBe('poster');
  expect(poster.sure).toBeGreaterThan(1 / KINDS.length);
  expect(poster.reasons.length).toBeGreaterThan(0);
  const line = kindOf(await features(svg('<rect y="4" width="600" height="2" fill="#246"/>', 600, 10)));
  expect(line.kind).toBe('separator');
});

test('a forest votes, and explains itself by the steps of its ways', () => {
  const tree = {
    feature: [0, -1, -1],
    threshold: [5, 0, 0],
    left: [1, -1, -1],
    right: [2, -1, -1],
    shares: [
      [50, 50],
      [90, 10],
      [0, 100],
    ],
  };
  const forest = { classes: ['a', 'b'] as const, features: ['size'] as const, trees: [tree, tree] };
  expect(judge(forest, { size: 7 })).toEqual({
    class: 'b',
    sure: 1,
    reasons: [{ feature: 'size', high: true, weight: 0.5 }],
  });
  expect(judge(forest, { size: 5 })).toMatchObject({ class: 'a', sure: 0.9, reasons: [{ high: false }] });
});

test('a kind counts from a certain sureness on', () => {
  expect(isSurely({ ...NOT_ANALYSED, kind: 'photo', sure: 0.7 }, 'photo')).toBe(true);
  expect(isSurely({ ...NOT_ANALYSED, kind: 'photo', sure: 0.5 }, 'photo')).toBe(false);
  expect(isSurely({ ...NOT_ANALYSED, kind: 'photo', sure: 0.7 }, 'chart', 'map')).toBe(false);
  expect(isSurely(null, 'photo')).toBe(false);
});

const line = (...words: [string, number][]): TextLine => ({
  text: words.map(([w]) => w).join(' '),
  sure: 0.9,
  box: { x: 0, y: 0, width: 1, height: 0.1 },
  words: words.map(([text, sure], i) => ({ text, sure, box: { x: i * 0.1, y: 0, width: 0.1, height: 0.1 } })),
});

test('only sure words count, more so in a photo', () => {
  const lines = [line(['Book', 0.96], ['now', 0.65], ['~', 0.9]), line(['|', 0.99]), line(['a', 0.9])];
  expect(textOf(lines, false)).toBe('Book now');
  expect(textOf(lines, true)).toBe('Book');
  expect(textShareOf(lines, false)).toBeCloseTo(0.02, 5);
  expect(countingLines(lines, false)).toHaveLength(1);
});

test('zigzags are no text, and words that are far higher than those beside them are none', () => {
  expect(textOf([line(['VAVAN', 0.9])], false)).toBe('');
  expect(textOf([line(['MAXIMA', 0.9])], false)).toBe('MAXIMA');
  const uneven = line(['Ferry', 0.9], ['at', 0.9], ['seven', 0.9]);
  uneven.words[1]!.box.height = 0.4;
  expect(textOf([uneven], false)).toBe('Ferry seven');
});

test('a pattern that reads as one syllable is no text', () => {
  expect(textOf([line(['We', 0.9], ['Wo', 0.9], ['We', 0.9], ['We', 0.8], ['We', 0.9])], false)).toBe('');
});

const box = (x: number, y: number, width: number, height: number) => ({ x, y, width, height });

test('a thing counts where both detectors agree, and is named only where both are sure', () => {
  const scores = (entries: Record<number, number>) => Array.from({ length: 80 }, (_, i) => entries[i] ?? 0);
  const cat = { class: 15, sure: 0.7, box: box(0, 0, 0.5, 0.5) };
  expect(agreedThings([cat], scores({ 15: 0.6 }))).toMatchObject([{ name: 'cat', box: cat.box }]);
  expect(agreedThings([cat], scores({ 15: 0.45 }))).toMatchObject([{ name: 'animal' }]);
  expect(agreedThings([cat], scores({ 15: 0.1 }))).toEqual([]);
  expect(agreedThings([cat], scores({ 16: 0.9 }))).toEqual([]);
});

test('several of a kind are counted once for each place', () => {
  const scores = Array.from({ length: 80 }, (_, i) => (i === 8 ? 0.8 : 0));
  const boat = (sure: number, x: number) => ({ class: 8, sure, box: box(x, 0, 0.3, 0.3) });
  const things = agreedThings([boat(0.8, 0), boat(0.6, 0.02), boat(0.5, 0.6), boat(0.1, 0.3)], scores);
  expect(countedThings(things)).toMatchObject([{ name: 'boat', count: 2 }]);
});

test('boxes overlap by their intersection over their union', () => {
  expect(overlap(box(0, 0, 1, 1), box(0, 0, 1, 1))).toBe(1);
  expect(overlap(box(0, 0, 1, 1), box(0.5, 0, 1, 1))).toBeCloseTo(1 / 3, 5);
  expect(overlap(box(0, 0, 0.2, 0.2), box(0.5, 0.5, 0.2, 0.2))).toBe(0);
  expect(distinct([box(0, 0, 1, 1), box(0.05, 0, 1, 1), box(2, 2, 1, 1)])).toHaveLength(2);
});

test('a credit line names who, where and under what', () => {
  expect(
    creditLine({
      credit: 'Ann Rendall',
      licence: 'https://creativecommons.org/licenses/by-sa/4.0/',
      source: 'https://www.pictures.example/1',
    }),
  ).toBe('Photo: Ann Rendall, pictures.example, CC BY-SA 4.0');
  expect(creditLine({ credit: '© Holm Trust', licence: '', source: '' })).toBe('© Holm Trust');
  expect(creditLine({ credit: '', licence: '', source: '' })).toBe('');
  expect(licenceName('https://creativecommons.org/publicdomain/zero/1.0/')).toBe('CC0');
  expect(creditFrom(null, { creator: 'A', credit: 'B', copyright: null, licence: 'L' })).toEqual({
    credit: 'B',
    licence: 'L',
    source: '',
  });
  expect(
    creditFrom({ credit: 'C', licence: '', source: 'S' }, { creator: 'A', credit: 'B', copyright: null, licence: 'L' }),
  ).toEqual({ credit: 'C', licence: 'L', source: 'S' });
});

test('a picture is level, upright or square', () => {
  expect([orientationOf(300, 200), orientationOf(200, 300), orientationOf(102, 100)]).toEqual([
    'level',
    'upright',
    'square',
  ]);
});
