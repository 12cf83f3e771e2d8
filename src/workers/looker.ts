/**
 * A process of its own that decodes pictures: what it decodes is hostile and decoders are native code, so it may be
 * killed at any moment. It takes one task at a time and answers it.
 */
import sharp from 'sharp';
import { coloursOf } from '@/core/picture/colours';
import { pictureType } from '@/core/picture/signatures';
import type { Answer, LookTask, PictureLook } from '@/server/analysis/reader-tasks';

const MAX_PIXELS = 100_000_000;
/** Twice the size at which the Galley shows it. */
const THUMB = { width: 236, height: 176 };
const HEAVY_BYTES = 102_400;
/** Types that the picture library does not draw. */
const UNDRAWN = new Set(['image/bmp', 'image/x-icon']);

sharp.concurrency(1);
sharp.cache(false);

async function lookAt(bytes: Buffer): Promise<PictureLook> {
  const look: PictureLook = { broken: null, lighter: null, colours: [], thumb: null };
  const type = pictureType(bytes);
  if (type === null || UNDRAWN.has(type)) return look;
  try {
    const open = () => sharp(bytes, { limitInputPixels: MAX_PIXELS, failOn: 'truncated' }).autoOrient();
    // Decoding costs most, so it is done once: the colours are taken from the pixels of the thumbnail.
    const { data, info } = await open()
      .resize({ ...THUMB, fit: 'inside', withoutEnlargement: type !== 'image/svg+xml' })
      .toColourspace('srgb')
      .ensureAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    look.thumb = await sharp(data, { raw: info }).webp({ quality: 82, effort: 1 }).toBuffer();
    look.colours = coloursOf(sampled(data, info.width, info.height));
    if (bytes.length > HEAVY_BYTES && type !== 'image/svg+xml' && type !== 'image/gif')
      look.lighter = (await open().webp({ quality: 80 }).toBuffer()).length;
    return look;
  } catch (error) {
    return { ...look, broken: `it cannot be decoded (${firstLine(error)})` };
  }
}

/** At most 32 × 32 pixels of a picture, evenly spread; RGBA both. */
function sampled(pixels: Buffer, width: number, height: number): Buffer {
  const [columns, rows] = [Math.min(32, width), Math.min(32, height)];
  const out = Buffer.alloc(columns * rows * 4);
  for (let y = 0; y < rows; y++)
    for (let x = 0; x < columns; x++) {
      const from = (Math.floor(((y + 0.5) * height) / rows) * width + Math.floor(((x + 0.5) * width) / columns)) * 4;
      pixels.copy(out, (y * columns + x) * 4, from, from + 4);
    }
  return out;
}

const firstLine = (error: unknown) => (error instanceof Error ? error.message : String(error)).split('\n')[0]!;

process.on('message', ({ bytes }: LookTask) => {
  lookAt(bytes).then(
    (result) => process.send!({ result } satisfies Answer<PictureLook>),
    (error: unknown) => process.send!({ error: firstLine(error) } satisfies Answer<PictureLook>),
  );
});
process.on('disconnect', () => process.exit(0));
