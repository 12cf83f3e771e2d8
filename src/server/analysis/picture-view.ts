import sharp from 'sharp';
import type { View } from '@/core/picture/features';

export const MAX_PIXELS = 100_000_000;
/** Greatest side of the view that is measured: enough for what tells kinds apart, and quick. */
const VIEW = 384;
/** Twice the size at which the Galley shows it. */
const THUMB = { width: 236, height: 176 };

/**
 * The picture as everything but its file is told from: upright, sRGB, RGBA, at most 384 pixels each way. Decoding costs
 * most, so it is done once, and small: JPEG decoders skip what is not needed.
 *
 * @throws Error of the decoder
 */
export async function viewOf(bytes: Buffer): Promise<View> {
  const { data, info } = await sharp(bytes, { limitInputPixels: MAX_PIXELS, failOn: 'truncated' })
    .autoOrient()
    .resize({ width: VIEW, height: VIEW, fit: 'inside', withoutEnlargement: true })
    .toColourspace('srgb')
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { data, width: info.width, height: info.height };
}

/** A small picture of a view. JPEG is encoded in half the time; what shines through needs WebP. */
export function thumbOf({ data, width, height }: View, clear: boolean): Promise<Buffer> {
  const drawn = sharp(data, { raw: { width, height, channels: 4 } });
  const fitted = (clear ? drawn : drawn.removeAlpha()).resize({ ...THUMB, fit: 'inside', withoutEnlargement: true });
  return (clear ? fitted.webp({ quality: 82, effort: 1 }) : fitted.jpeg({ quality: 82 })).toBuffer();
}
