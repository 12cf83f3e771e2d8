import sharp from 'sharp';
import { colourName, coloursOf, oklch } from './colours';
import { headerSize, pictureType, svgSize } from './signatures';

const bytes = (text: string) => Buffer.from(text, 'latin1');

// Signatures of the WHATWG MIME Sniffing standard, 6.1, and of the formats’ own specifications.
test.each([
  ['\x89PNG\r\n\x1a\n', 'image/png'],
  ['\xff\xd8\xff\xe0', 'image/jpeg'],
  ['GIF89a', 'image/gif'],
  ['GIF87a', 'image/gif'],
  ['RIFF\0\0\0\0WEBPVP8 ', 'image/webp'],
  ['\0\0\0\x1cftypavif\0\0\0\0avifmif1', 'image/avif'],
  ['II*\0', 'image/tiff'],
  ['\ufeff<?xml version="1.0"?>\n<!-- x --><svg xmlns="…">', 'image/svg+xml'],
  ['<!DOCTYPE svg PUBLIC "-//W3C//DTD SVG 1.1//EN" "x.dtd"><svg>', 'image/svg+xml'],
  ['<!doctype html><p><svg>', null],
  ['RIFF\0\0\0\0WAVE', null],
  ['%PDF-1.7', null],
  ['', null],
])('%j is %s', (head, type) =>
  expect(pictureType(head.startsWith('\ufeff') ? Buffer.from(head) : bytes(head))).toBe(type),
);

test('the size of a bitmap and of an icon stands in the header', () => {
  const bmp = Buffer.alloc(54);
  bmp.write('BM');
  bmp.writeInt32LE(640, 18);
  bmp.writeInt32LE(-480, 22);
  expect(headerSize('image/bmp', bmp)).toEqual({ width: 640, height: 480 });
  expect(headerSize('image/x-icon', Buffer.from([0, 0, 1, 0, 1, 0, 0, 48]))).toEqual({ width: 256, height: 48 });
});

// By the formats' own specifications (PNG 11.2.1, GIF89a 18, WebP container), beside a general-purpose reference library.
test.each(['png', 'gif', 'webp', 'webp lossless', 'webp alpha'])(
  'the size of a %s agrees with what sharp writes',
  async (kind) => {
    const [format, more] = kind.split(' ') as ['png' | 'gif' | 'webp', string | undefined];
    const alpha = more === 'alpha' ? 0.5 : 1;
    const picture = sharp({
      create: { width: 321, height: 45, channels: 4, background: { r: 9, g: 80, b: 70, alpha } },
    });
    const file = await picture.toFormat(format, more === 'lossless' ? { lossless: true } : {}).toBuffer();
    expect(headerSize(pictureType(file)!, file)).toEqual({ width: 321, height: 45 });
    expect(headerSize(pictureType(file)!, file.subarray(0, 20))).toBeNull();
  },
);

// SVG 2, 8.2 and 8.13, with the absolute units of CSS Values 4, 6.2.
test.each([
  ['<svg width="40" height="30px">', 40, 30],
  ['<?xml version="1.0"?><svg viewBox="0 0 200 100">', 200, 100],
  ['<svg width="50" viewBox="0,0,200,100">', 50, 25],
  ['<svg width="100%" height="100%" viewBox="0 0 24 24">', 24, 24],
  ["<svg height='1in' width='25.4mm'>", 96, 96],
])('%s', (source, width, height) => expect(svgSize(source)).toEqual({ width, height }));

test('an SVG that says nothing has no size', () => {
  expect(svgSize('<svg>')).toBeNull();
  expect(svgSize('<svg width="0" height="0">')).toBeNull();
  expect(svgSize('no drawing')).toBeNull();
});

// CSS Color 4 gives oklch(62.796% 0.25768 29.234) for red and oklch(51.975% 0.17686 142.495) for green (from memory).
test('OKLCH agrees with CSS Color 4', () => {
  const red = oklch(255, 0, 0);
  expect(red.l).toBeCloseTo(0.62796, 3);
  expect(red.c).toBeCloseTo(0.25768, 3);
  expect(red.h).toBeCloseTo(29.23, 1);
  expect(oklch(0, 128, 0).h).toBeCloseTo(142.5, 1);
});

// CSS named colours, as everybody calls them.
test.each([
  ['white', 255, 255, 255],
  ['black', 0, 0, 0],
  ['grey', 128, 128, 128],
  ['red', 220, 20, 30],
  ['orange', 255, 140, 0],
  ['brown', 120, 70, 20],
  ['yellow', 250, 220, 0],
  ['green', 34, 139, 34],
  ['blue', 30, 80, 200],
  ['purple', 128, 0, 128],
  ['pink', 255, 105, 180],
])('%s', (name, r, g, b) => expect(colourName(r, g, b)).toBe(name));

test('colours come in order of weight, transparent ones left out', () => {
  const pixel = (r: number, g: number, b: number, a = 255) => [r, g, b, a];
  const pixels = Uint8Array.from([
    ...pixel(34, 139, 34),
    ...pixel(30, 80, 200),
    ...pixel(30, 80, 210),
    ...pixel(255, 0, 0, 0),
  ]);
  expect(coloursOf(pixels)).toEqual(['blue', 'green']);
});
