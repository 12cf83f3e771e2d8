import { strings } from '@/ui/strings';
import sharp from 'sharp';
import { bitsApart, groupSimilar, sceneDifference, stemOf, type Comparable } from './similarity';
import { differences } from './differences';
import { fingerprintOf } from './fingerprint';

/** A drawing with enough in it to be told apart; each number draws another. */
function drawing(n: number, hue = 200): Buffer {
  const shapes = Array.from({ length: 9 }, (_, i) => {
    const v = (n * 97 + i * 53) % 101;
    return `<circle cx="${(v * 37) % 320}" cy="${(v * 59 + i * 31) % 240}" r="${18 + (v % 34)}" fill="hsl(${(hue + v * 3) % 360} 60% ${25 + (v % 60)}%)"/>`;
  });
  return Buffer.from(
    `<svg xmlns="http://www.w3.org/2000/svg" width="320" height="240"><rect width="320" height="240" fill="hsl(${hue} 40% 80%)"/>${shapes.join('')}</svg>`,
  );
}

async function measured(id: number, bytes: Buffer, more: Partial<Comparable> = {}): Promise<Comparable> {
  const { data, info } = await sharp(bytes).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  const fingerprint = fingerprintOf({ data, width: info.width, height: info.height });
  return { id, width: info.width, height: info.height, stem: null, taken: null, ...fingerprint, ...more };
}

const together = async (...all: Promise<Comparable>[]) => groupSimilar(await Promise.all(all));

// Known transformations, made by a general-purpose reference library (sharp).
test.each([
  ['half the size', (b: Buffer) => sharp(b).resize(160).png().toBuffer()],
  ['JPEG of low quality', (b: Buffer) => sharp(b).jpeg({ quality: 20 }).toBuffer()],
  ['WebP', (b: Buffer) => sharp(b).webp({ quality: 60 }).toBuffer()],
  ['a crop of 5 %', (b: Buffer) => sharp(b).extract({ left: 8, top: 6, width: 304, height: 228 }).png().toBuffer()],
  ['grey', (b: Buffer) => sharp(b).greyscale().png().toBuffer()],
])('%s is the same picture', async (_, change) => {
  const own = drawing(3);
  const groups = await together(measured(1, own), measured(2, await change(own)), measured(3, drawing(8)));
  expect(groups.get(1)).toEqual({ duplicateGroup: 1, similarGroup: 1 });
  expect(groups.get(2)).toEqual({ duplicateGroup: 1, similarGroup: 1 });
  expect(groups.get(3)).toEqual({ duplicateGroup: null, similarGroup: null });
});

test('names that differ in a number only make a series where the colours are alike', async () => {
  const stem = '/gallery/img';
  const groups = await together(
    measured(1, drawing(3), { stem }),
    measured(2, drawing(4), { stem }),
    sharp(drawing(5))
      .modulate({ brightness: 0.3 })
      .png()
      .toBuffer()
      .then((dark) => measured(3, dark, { stem })),
  );
  expect(groups.get(2)).toEqual({ duplicateGroup: null, similarGroup: 1 });
  expect(groups.get(3)).toEqual({ duplicateGroup: null, similarGroup: null });
});

test('so does being taken within half an hour', async () => {
  const groups = await together(
    measured(1, drawing(3), { taken: '2024-05-14 09:12' }),
    measured(2, drawing(4), { taken: '2024-05-14 09:30' }),
    measured(3, drawing(6), { taken: '2024-05-14 12:00' }),
  );
  expect([1, 2, 3].map((id) => groups.get(id)!.similarGroup)).toEqual([1, 1, null]);
});

test('what is all but even is like nothing', async () => {
  const even = (fill: string) =>
    Buffer.from(
      `<svg xmlns="http://www.w3.org/2000/svg" width="40" height="30"><rect width="40" height="30" fill="${fill}"/></svg>`,
    );
  const groups = await together(measured(1, even('#888')), measured(2, even('#888')));
  expect(groups.get(2)).toEqual({ duplicateGroup: null, similarGroup: null });
});

test('hashes differ by the bits that differ', () => {
  expect(bitsApart('0000000000000000', 'ffffffffffffffff')).toBe(64);
  expect(bitsApart('8000000000000001', '0000000000000000')).toBe(2);
});

test.each([
  ['https://a.example/gallery/Puffin-week-12.jpg?x=1', 'https://a.example/gallery/puffin-week'],
  ['/i/IMG_2041.jpg', '/i/img'],
  ['/i/IMG_2041-800x600.jpg', '/i/img'],
  ['/i/logo.svg', null],
  ['/i/2041.jpg', null],
  ['data:image/png;base64,AAAA', null],
])('%s has the stem %s', (src, stem) => expect(stemOf(src)).toBe(stem));

test('two cuts of one scene differ less than two scenes', async () => {
  const scene = await measured(1, drawing(3));
  const cut = await measured(
    2,
    await sharp(drawing(3)).extract({ left: 0, top: 0, width: 200, height: 240 }).png().toBuffer(),
  );
  const other = await measured(3, drawing(3, 20));
  expect(sceneDifference(scene.fields, cut.fields)).toBeLessThan(sceneDifference(scene.fields, other.fields));
});

test('what differs is reported in a few words', async () => {
  const own = await measured(1, drawing(3));
  const of = (fingerprint: Comparable, more: object = {}) => ({
    width: 320,
    height: 240,
    bytes: 1,
    colours: ['blue'],
    fingerprint,
    recognition: null,
    text: null,
    sha256: null,
    ...more,
  });
  expect(
    differences(of(own), of(own, { width: 640, height: 480, colours: ['blue', 'red'] })).map(strings.message),
  ).toEqual(['2 times larger', 'more red']);
  expect(differences(of(own), of(own, { text: 'Half price' })).map(strings.message)).toEqual([
    'it contains the text “Half price”',
  ]);
  const dark = await measured(2, await sharp(drawing(3)).modulate({ brightness: 0.6 }).png().toBuffer());
  expect(differences(of(own), of(dark)).map(strings.message)).toEqual(['darker']);
  expect(differences(of(own, { sha256: 'a' }), of(dark, { sha256: 'a' })).map(strings.message)).toEqual([
    'the same file',
  ]);
});

test('what shines through is taken for white, and small or narrow pictures are measured whole', async () => {
  const ring = (ground: string, width: number, height: number) =>
    Buffer.from(
      `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}">${ground}<circle cx="${width / 3}" cy="${height / 2}" r="${height / 3}" fill="#246"/></svg>`,
    );
  const measured = async (svg: Buffer) => {
    const { data, info } = await sharp(svg).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
    return fingerprintOf({ data, width: info.width, height: info.height });
  };
  for (const [width, height] of [
    [384, 300],
    [384, 40],
    [20, 20],
    [5, 3],
  ] as const) {
    const clear = await measured(ring('', width, height));
    expect(clear).toEqual(await measured(ring('<rect width="100%" height="100%" fill="#fff"/>', width, height)));
    expect([clear.waves, clear.blocks, clear.fields].map((hex) => hex.length)).toEqual([16, 16, 96]);
  }
});
