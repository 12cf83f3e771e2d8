import sharp from 'sharp';
import { MAX_PIXELS } from './picture-view';

/** Frames of an animation that are shown side by side, evenly spread over it. */
const FRAMES = 4;
const QUALITY = 85;
/** What shines through is seen on white, as most pages are. */
const PAPER = '#ffffff';

/**
 * A picture as it leaves for a drafting service: upright, on white, sRGB, scaled, without any metadata, as JPEG. Of an animation, a
 * sheet of four frames; a drawing of lines is rendered.
 *
 * @param maxSide pixels of the longer side at most
 * @throws Error of the decoder
 */
export async function viewToSend(bytes: Buffer, maxSide: number): Promise<Buffer> {
  const { pages = 1 } = await sharp(bytes, { limitInputPixels: MAX_PIXELS }).metadata();
  if (pages <= 1) return jpeg(await scaled(bytes, maxSide));
  const step = (pages - 1) / (FRAMES - 1);
  const shown = [...new Set(Array.from({ length: FRAMES }, (_, i) => Math.round(i * step)))];
  const half = Math.floor(maxSide / 2);
  const frames = await Promise.all(shown.map((page) => scaled(bytes, half, page)));
  const sizes = await Promise.all(frames.map((f) => sharp(f).metadata()));
  const [width, height] = [Math.max(...sizes.map((s) => s.width)), Math.max(...sizes.map((s) => s.height))];
  const rows = Math.ceil(frames.length / 2);
  const sheet = sharp({
    create: { width: width * 2, height: height * rows, channels: 3, background: PAPER },
  }).composite(frames.map((input, i) => ({ input, left: (i % 2) * width, top: Math.floor(i / 2) * height })));
  return sheet.jpeg({ quality: QUALITY }).toBuffer();
}

/** One frame, upright, flattened and scaled, as PNG. */
const scaled = (bytes: Buffer, side: number, page = 0): Promise<Buffer> =>
  sharp(bytes, { limitInputPixels: MAX_PIXELS, page })
    .autoOrient()
    .flatten({ background: PAPER })
    .toColourspace('srgb')
    .resize({ width: side, height: side, fit: 'inside', withoutEnlargement: true })
    .png({ compressionLevel: 1 })
    .toBuffer();

const jpeg = (png: Buffer): Promise<Buffer> => sharp(png).jpeg({ quality: QUALITY }).toBuffer();
