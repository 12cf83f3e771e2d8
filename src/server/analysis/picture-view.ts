import sharp from 'sharp';
import type { View } from '@/core/picture/features';

export const MAX_PIXELS = 100_000_000;
/** Greatest side of the view that is measured: enough for what tells kinds apart, quick, and twice what the Galley shows. */
const VIEW = 256;
/** Bytes up to which a file that is no larger than a view is its own thumbnail. */
const LIGHT = 48_000;
/** Types that every browser shows. */
const SHOWN = new Set(['image/png', 'image/jpeg', 'image/webp', 'image/gif']);

/**
 * The picture as everything but its file is reported from: upright, sRGB, RGBA, at most 256 pixels each way. Decoding costs
 * most, so it is done once, and small: JPEG decoders skip what is not needed.
 *
 * @throws Error of the decoder
 */
export async function viewOf(bytes: Buffer): Promise<View> {
  const { data, info } = await sharp(bytes, { limitInputPixels: MAX_PIXELS, failOn: 'truncated' })
    .autoOrient()
    .resize({ width: VIEW, height: VIEW, fit: 'inside', withoutEnlargement: true, kernel: 'linear' })
    .toColourspace('srgb')
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { data, width: info.width, height: info.height };
}

/** What lists show of a picture. */
export interface Drawn {
  view: View;
  bytes: Buffer;
  type: string;
  /** Of the file, in pixels. */
  width: number;
  height: number;
  frames: number;
  /** Whether something shines through. */
  clear: boolean;
}

/** A small picture: the file itself where it is small. JPEG is encoded in half the time; what shines through needs WebP. */
export async function thumbOf({ view, bytes, type, width, height, frames, clear }: Drawn): Promise<Buffer> {
  const whole = width === view.width && height === view.height;
  if (whole && frames === 1 && bytes.length <= LIGHT && SHOWN.has(type)) return bytes;
  const drawn = sharp(view.data, { raw: { width: view.width, height: view.height, channels: 4 } });
  return (
    clear ? drawn.webp({ quality: 82, alphaQuality: 70, effort: 0 }) : drawn.removeAlpha().jpeg({ quality: 82 })
  ).toBuffer();
}
