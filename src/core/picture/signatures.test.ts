import sharp from 'sharp';
import { headerSize, pictureType, pngFrames, svgSize } from './signatures';

const bytes = (hex: string, length = 64) =>
  Buffer.concat([Buffer.from(hex.replace(/ /g, ''), 'hex'), Buffer.alloc(length)]);

/** WHATWG MIME Sniffing 6.1, the table of image type patterns (from memory). */
describe('by the patterns of the MIME Sniffing standard', () => {
  test.each([
    ['image/x-icon', '00 00 01 00'],
    ['image/x-icon', '00 00 02 00'],
    ['image/bmp', '42 4D'],
    ['image/gif', '47 49 46 38 37 61'],
    ['image/gif', '47 49 46 38 39 61'],
    ['image/webp', '52 49 46 46 00 01 02 03 57 45 42 50 56 50'],
    ['image/png', '89 50 4E 47 0D 0A 1A 0A'],
    ['image/jpeg', 'FF D8 FF'],
  ])('%s begins with %s', (type, pattern) => {
    expect(pictureType(bytes(pattern))).toBe(type);
    // One bit off is another thing.
    const off = bytes(pattern);
    off[1]! ^= 0x20;
    expect(pictureType(off)).not.toBe(type);
  });

  // Those that the standard leaves to the formats’ own specifications.
  test.each([
    ['image/avif', '\0\0\0\x1cftypavif\0\0\0\0avifmif1'],
    ['image/heic', '\0\0\0\x1cftypheic\0\0\0\0mif1heic'],
    ['image/tiff', 'II*\0'],
    ['image/tiff', 'MM\0*'],
  ])('%s begins with %j', (type, head) => expect(pictureType(Buffer.from(head, 'latin1'))).toBe(type));

  test.each([
    ['a PDF', Buffer.from('%PDF-1.7 and what follows it in the file')],
    ['an empty file', Buffer.alloc(0)],
    ['an MP4 film', bytes('00 00 00 18 66 74 79 70 69 73 6f 6d')],
    ['an HTML page with an SVG in it', Buffer.from('<!doctype html><title>A</title><svg><path/></svg>')],
    ['a RIFF file of sound', bytes('52 49 46 46 00 01 02 03 57 41 56 45')],
  ])('%s is no picture', (_, file) => expect(pictureType(file)).toBeNull());

  test.each([
    ['a declaration', '<?xml version="1.0" encoding="UTF-8"?>\n<svg xmlns="http://www.w3.org/2000/svg"/>'],
    ['a byte order mark', '\ufeff<svg/>'],
    ['a declaration and a comment', '\ufeff<?xml version="1.0"?>\n<!-- x --><svg xmlns="…">'],
    ['a document type', '<!DOCTYPE svg PUBLIC "-//W3C//DTD SVG 1.1//EN" "x.dtd"><svg>'],
    ['comments', '<!-- drawn by hand --><!-- twice -->\n<svg\nwidth="3"/>'],
    [
      'a document type with declarations of its own',
      '<!DOCTYPE svg PUBLIC "-//W3C//DTD SVG 1.1//EN" "svg11.dtd" [<!ENTITY a "b">]><svg></svg>',
    ],
  ])('SVG after %s', (_, source) => expect(pictureType(Buffer.from(source))).toBe('image/svg+xml'));
});

describe('width and height, against the picture library that wrote the file', () => {
  const drawn = (width: number, height: number, alpha = 1) =>
    sharp({ create: { width, height, channels: 4, background: { r: 90, g: 10, b: 200, alpha } } });
  const sizes = [
    [1, 1],
    [37, 255],
    [300, 2],
    [321, 45],
    [1025, 513],
  ] as const;

  test.each([
    ['image/png', (w: number, h: number) => drawn(w, h).png()],
    ['image/gif', (w: number, h: number) => drawn(w, h).gif()],
    ['image/webp', (w: number, h: number) => drawn(w, h).webp({ lossless: true })],
    ['image/webp', (w: number, h: number) => drawn(w, h).flatten().webp({ quality: 40 })],
    ['image/webp', (w: number, h: number) => drawn(w, h, 0.5).webp({ quality: 40 })],
  ])('%s', async (type, encode) => {
    for (const [width, height] of sizes) {
      const file = await encode(width, height).toBuffer();
      expect(pictureType(file)).toBe(type);
      expect(headerSize(type, file)).toEqual({ width, height });
    }
  });

  test('a file that is cut off tells nothing, and a picture of no extent neither', async () => {
    const file = await drawn(3, 4).png().toBuffer();
    expect(headerSize('image/png', file.subarray(0, 20))).toBeNull();
    for (const format of ['gif', 'webp'] as const) {
      const other = await drawn(321, 45).toFormat(format).toBuffer();
      expect(headerSize(`image/${format}`, other.subarray(0, 20))).toBeNull();
    }
    file.writeUInt32BE(0, 16);
    expect(headerSize('image/png', file)).toBeNull();
  });

  test('a bitmap that is stored from the top down has a negative height; an icon of 256 says 0', () => {
    const bitmap = bytes('42 4D');
    bitmap.writeInt32LE(12, 18);
    bitmap.writeInt32LE(-34, 22);
    expect(headerSize('image/bmp', bitmap)).toEqual({ width: 12, height: 34 });
    expect(headerSize('image/x-icon', bytes('00 00 01 00 01 00 10 00'))).toEqual({ width: 16, height: 256 });
  });
});

/** SVG 2, 8.2 and 8.13; CSS Values and Units 4, 6.2: an inch is 96 pixels, 2.54 cm, 72 points, 6 picas. */
describe('the size that an SVG says', () => {
  test.each([
    ['width="20" height="10"', 20, 10],
    ['width="1in" height="2.54cm"', 96, 96],
    ['width="72pt" height="6pc"', 96, 96],
    ['width="25.4mm" height="96px"', 96, 96],
    ["height='1in' width='25.4mm'", 96, 96],
    ['viewBox="0 0 30 40"', 30, 40],
    ['width="50" viewBox="0,0,200,100"', 50, 25],
    ['viewBox="0,0,30,40" width="60"', 60, 80],
    ['viewBox="0 0 30 40" height="20"', 15, 20],
    ['viewBox="0 0 30 40" width="100%" height="100%"', 30, 40],
    ["width='1e2' height='.5e1'", 100, 5],
  ])('%s', (attributes, width, height) => {
    expect(svgSize(`<?xml version="1.0"?><svg ${attributes}><g width="7"/></svg>`)).toEqual({ width, height });
  });

  test.each([
    ['width="20"'],
    ['viewBox="0 0 0 40"'],
    ['width="100%" height="50%"'],
    ['data-width="3" data-height="4"'],
  ])('%s is none', (attributes) => expect(svgSize(`<svg ${attributes}/>`)).toBeNull());
});

test('a PNG that moves tells how many frames it has before its picture data', async () => {
  const still = await sharp({ create: { width: 2, height: 2, channels: 3, background: '#a21' } })
    .png()
    .toBuffer();
  const chunk = (name: string, data: number[]) =>
    Buffer.concat([Buffer.from([0, 0, 0, data.length]), Buffer.from(name), Buffer.from(data), Buffer.alloc(4)]);
  // After the signature and IHDR, which are 33 bytes long (PNG, third edition, 5.2 and 11.2.1).
  const after = (...chunks: Buffer[]) => Buffer.concat([still.subarray(0, 33), ...chunks, still.subarray(33)]);
  expect(pngFrames(still)).toBe(1);
  expect(pngFrames(after(chunk('acTL', [0, 0, 0, 12, 0, 0, 0, 0])))).toBe(12);
  expect(pngFrames(after(chunk('tEXt', [97, 0, 98]), chunk('acTL', [0, 0, 1, 4, 0, 0, 0, 0])))).toBe(260);
  // The name among other bytes, or after the picture data, is no such chunk.
  expect(pngFrames(after(chunk('tEXt', [...Buffer.from('a\0acTL....')])))).toBe(1);
  expect(pngFrames(Buffer.concat([still, chunk('acTL', [0, 0, 0, 2, 0, 0, 0, 0])]))).toBe(1);
  expect(pngFrames(after(chunk('acTL', [0, 0, 0, 3, 0, 0, 0, 0])).subarray(0, 40))).toBe(1);
});
