import sharp from 'sharp';
import { thumbOf, viewOf } from './picture-view';

const drawn = (width: number, height: number, inner = '<rect width="50%" height="100%" fill="#a21"/>') =>
  sharp(Buffer.from(`<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}">${inner}</svg>`));

async function thumb(bytes: Buffer, type: string, clear: boolean, frames = 1) {
  const [view, { width, height }] = [await viewOf(bytes), await sharp(bytes).metadata()];
  return thumbOf({ view, bytes, type, width, height, frames, clear });
}

test('a view is upright, RGBA and at most 256 pixels each way, and no larger than the picture', async () => {
  const photo = await drawn(600, 300)
    .flatten({ background: '#fff' })
    .jpeg()
    .withMetadata({ orientation: 6 })
    .toBuffer();
  expect(await viewOf(photo)).toMatchObject({ width: 128, height: 256 });
  const icon = await viewOf(await drawn(24, 16).png().toBuffer());
  expect(icon).toMatchObject({ width: 24, height: 16 });
  expect([...icon.data.subarray(0, 4)]).toEqual([0xaa, 0x22, 0x11, 255]);
  expect(icon.data[23 * 4 + 3]).toBe(0);
});

test('what is small is its own thumbnail, bytes and all', async () => {
  const icon = await drawn(24, 16).png().toBuffer();
  expect(await thumb(icon, 'image/png', true)).toBe(icon);
});

test.each([
  ['moves', 'image/gif', 2],
  ['is a vector drawing', 'image/svg+xml', 1],
  ['not every browser shows', 'image/tiff', 1],
])('what %s gets a still one that every browser shows', async (_, type, frames) => {
  const icon = await drawn(24, 16).png().toBuffer();
  expect(await sharp(await thumb(icon, type, true, frames)).metadata()).toMatchObject({
    format: 'webp',
    hasAlpha: true,
  });
});

test('a small picture in a heavy file, and a large one, get a light one', async () => {
  // A recurrence of Numerical Recipes (from memory): its high bits do not compress.
  let state = 7;
  const noise = Uint8Array.from({ length: 200 * 200 * 3 }, () => (state = (state * 1664525 + 1013904223) >>> 0) >>> 24);
  const heavy = await sharp(noise, { raw: { width: 200, height: 200, channels: 3 } })
    .png()
    .toBuffer();
  expect(heavy.length).toBeGreaterThan(48_000);
  const light = await thumb(heavy, 'image/png', false);
  expect(light.length).toBeLessThan(heavy.length);
  expect(await sharp(light).metadata()).toMatchObject({ format: 'jpeg', width: 200, height: 200 });
  const large = await thumb(await drawn(1024, 512).png().toBuffer(), 'image/png', true);
  expect(await sharp(large).metadata()).toMatchObject({ format: 'webp', width: 256, height: 128, hasAlpha: true });
});
